"""The statements of the installation guide are true."""

import re
from pathlib import Path

from django.core.management import get_commands

ROOT = Path(__file__).resolve().parents[2]
GUIDE = ROOT / "docs" / "running"
#: Settings that a package reads, not our own settings.
OF_PACKAGES = {"PROMETHEUS_MULTIPROC_DIR", "NUMBA_CACHE_DIR"}


def named_in_settings():
    text = "\n".join(each.read_text() for each in (ROOT / "web/config/settings").glob("*.py"))
    return set(re.findall(r'env(?:\.\w+)?\(\s*"([A-Z_]+)"', text)) | set(
        re.findall(r'^    "([A-Z_]+)": "', text, re.MULTILINE)
    )


def test_every_setting_is_on_its_page_and_no_other():
    rows = re.findall(r"^\| ([^|]+) \|", (GUIDE / "settings.md").read_text(), re.MULTILINE)
    told = {name for row in rows for name in re.findall(r"`([A-Z_]+)`", row)}
    assert told - OF_PACKAGES == named_in_settings() - {"BACKEND", "NAME", "OPTIONS"}


def test_every_command_of_the_guide_is_one():
    text = "\n".join(each.read_text() for each in GUIDE.glob("*.md"))
    said = set(re.findall(r"still-reed ([a-z][a-z-]+)", text))
    known = {each.replace("_", "-") for each in get_commands()} | {"serve", "alive", "version"}
    assert {"create-clinic", "backup", "restore", "migrate", "worker", "erase-expired"} <= said
    # The user's name follows the group's where the account is created.
    assert {each for each in said if each not in known} <= {"still-reed"}


#: Packages of the guide that run next to a container, and their counterparts.
BESIDE, INSTEAD = {"postgresql", "nginx-light", "openssl", "curl"}, {"postgresql-client"}


def test_a_container_holds_what_the_guide_installs():
    guide, container = (GUIDE / "installing.md").read_text(), (ROOT / "Containerfile").read_text()
    packages = [
        set(
            re.search(r"--no-install-recommends(?: \\\n)?\s+(.+?)(?: \\)?$", text, re.MULTILINE)[
                1
            ].split()
        )
        for text in (guide, container)
    ]
    assert packages[0] - BESIDE | INSTEAD == packages[1]
    installs = re.findall(
        r"pip (install .+?) (?:-r )?(?:/tmp/release/)?\S+(?: \\)?$", container, re.MULTILINE
    )
    assert installs == re.findall(r"pip (install .+?) (?:-r )?\S+$", guide, re.MULTILINE)
    needed = set(
        re.findall(
            r'^    "([A-Z_]+)": ',
            (ROOT / "web/config/settings/production.py").read_text(),
            re.MULTILINE,
        )
    )
    assert needed - {"default", "staticfiles"} <= set(re.findall(r"([A-Z_]+)=", container))


def test_pages_that_are_linked_are_there():
    for page in GUIDE.glob("*.md"):
        for link in re.findall(r"\]\(([^)#]+)", page.read_text()):
            assert (page.parent / link).exists(), f"{page.name}: {link}"


def test_every_test_that_the_page_on_security_names_is_there():
    rows = re.findall(
        r"^\| (V[\d.]+) \| (\S+) \| (.+) \| ([^|]+) \|$",
        (GUIDE / "security.md").read_text(),
        re.MULTILINE,
    )
    assert len(rows) > 150
    for item, verdict, _, where in rows:
        assert verdict in ("pass", "n/a", "**fail**"), item
        for name in () if where == "–" else where.split(", "):
            folder, _, file = name.rpartition("/")
            found = list((ROOT / "tests" / (folder or "web")).glob(f"*{file}*"))
            assert found, f"{item} names {name}"
