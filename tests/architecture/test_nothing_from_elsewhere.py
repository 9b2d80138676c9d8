"""Nothing is loaded from another host, nothing runs inline, and no lock file names an address."""

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


@pytest.mark.parametrize("path", SHIPPED, ids=lambda path: str(path.relative_to(ROOT)))
def test_no_file_names_another_host(path):
    text = path.read_text().replace("http://www.w3.org/2000/svg", "")
    assert not re.search(r"(src|href|url\(|import|fetch\()[\s=(]*[\"']?(https?:)?//", text)


@pytest.mark.parametrize("path", sorted(ROOT.glob("web/**/*.html")), ids=lambda path: path.name)
def test_no_page_holds_a_script_or_a_style_of_its_own(path):
    text = path.read_text()
    assert not re.search(r"<script(?![^>]*\bsrc=)|<style|\sstyle=|\son[a-z]+=", text)


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
