"""Nothing is loaded from another host, no code is inline, and no lock file contains an address."""

import re
from pathlib import Path

import pytest
from django.urls import reverse

ROOT = Path(__file__).resolve().parents[2]
SHIPPED = [
    path
    for pattern in ("web/**/*.html", "web/**/*.css", "web/**/*.js", "web/**/*.svg")
    for path in ROOT.glob(pattern)
]


def paths_that_break(paths, breaks_the_rule):
    """Return the paths whose text breaks a rule."""
    return [str(path.relative_to(ROOT)) for path in paths if breaks_the_rule(path.read_text())]


def test_no_file_names_another_host():
    pattern = re.compile(r"(src|href|url\(|import|fetch\()[\s=(]*[\"']?(https?:)?//")
    assert len(SHIPPED) > 100
    assert not paths_that_break(
        SHIPPED, lambda text: pattern.search(text.replace("http://www.w3.org/2000/svg", ""))
    )


def test_no_page_holds_a_script_or_a_style_of_its_own():
    pattern = re.compile(r"<script(?![^>]*\bsrc=)|<style|\sstyle=|\son[a-z]+=")
    pages = list(ROOT.glob("web/**/*.html"))
    assert len(pages) > 100
    assert not paths_that_break(pages, pattern.search)


@pytest.mark.django_db
def test_the_policy_forbids_everything_else(client):
    policy = client.get(reverse("accounts:sign_in"))["Content-Security-Policy"]
    rules = dict(rule.strip().split(" ", 1) for rule in policy.split(";"))
    assert rules["default-src"] == "'none'"
    assert all("unsafe" not in rule and "*" not in rule for rule in rules.values())
    assert rules["script-src"] == rules["style-src"] == rules["connect-src"] == "'self'"
    assert rules["frame-ancestors"] == "'none'"


@pytest.mark.parametrize(
    "path", [*ROOT.glob("requirements/*.txt"), ROOT / "package-lock.json"], ids=lambda p: p.name
)
def test_no_lock_file_names_a_download_address(path):
    text = path.read_text()
    assert "resolved" not in text
    assert not re.search(r"(index-url|find-links|@ https?://)", text)
    if path.suffix == ".txt":
        assert "--hash=sha256:" in text
