"""The database script is idempotent, and touches no other cluster."""

import shutil
import subprocess
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parents[2]


def script(checkout, *words):
    return subprocess.run(
        [checkout / "bin" / "postgres", *words],
        capture_output=True,
        text=True,
        check=True,
    ).stdout


@pytest.fixture
def other_checkout(tmp_path):
    """A second checkout in a folder that only its owner can enter."""
    tmp_path.chmod(0o700)
    shutil.copytree(ROOT / "bin", tmp_path / "bin")
    # Even a copy that has the first one's identity.
    (tmp_path / ".local").mkdir()
    shutil.copy(ROOT / ".local" / "checkout-id", tmp_path / ".local" / "checkout-id")
    yield tmp_path
    script(tmp_path, "destroy")


def test_starting_twice_is_harmless():
    before = (ROOT / ".local" / "database.env").read_text()
    script(ROOT, "start")
    assert (ROOT / ".local" / "database.env").read_text() == before


def test_two_checkouts_side_by_side_do_not_meet(other_checkout):
    script(other_checkout, "start")
    mine, theirs = script(ROOT, "status"), script(other_checkout, "status")
    assert mine.startswith("listening on 127.0.0.1:")
    assert theirs.startswith("listening on 127.0.0.1:")
    assert set(mine.split()) & set(theirs.split()) == {"listening", "on", "data", "in"}
    script(other_checkout, "destroy")
    assert script(other_checkout, "status") == "not running\n"
    assert script(ROOT, "status") == mine


def test_an_address_that_only_the_owner_may_read(other_checkout):
    script(other_checkout, "start")
    assert (other_checkout / ".local" / "database.env").stat().st_mode & 0o077 == 0
