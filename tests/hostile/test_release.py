"""A release in short: the wheel alone, without the checkout, creates a clinic's database and serves
it. `make rehearse` follows the whole guide, with packages, nginx and units."""

import os
import re
import socket
import subprocess
import sys
import time
import zipfile
from pathlib import Path

import pytest
import requests
from django.conf import settings

from tests.database import administration, create, drop, template_name
from tests.hostile.test_settings_and_faults import WHOLE
from tests.release_wheel import build_wheel

#: Two processes of one run may run these tests at the same time.
NAME = f"still_reed_released_{os.environ.get('PYTEST_XDIST_WORKER', 'alone')}"
#: Headers that the proxy in front sets.
THROUGH = {"Host": WHOLE["ALLOWED_HOSTS"], "X-Forwarded-Proto": "https"}


#: Commands of the guide, in one process.
PREPARES = """
from django.core.management import call_command
import web
print(web.__path__)
call_command("migrate", verbosity=0)
call_command("migrate", check_unapplied=True)
call_command("create_clinic", clinic="Saltmarsh", lead="Imre Halloran", mail="imre@saltmarsh.example",
             time_zone="Europe/Lisbon")
"""


@pytest.fixture(scope="module")
def release(tmp_path_factory):
    """The wheel's files in a folder; a whole test run builds it once."""
    place = tmp_path_factory.mktemp("release")
    built = os.environ.get("RELEASE_WHEEL")
    wheel = Path(built) if built else build_wheel(place / "dist")
    with zipfile.ZipFile(wheel) as packed:
        packed.extractall(place / "released")
    return place / "released"


@pytest.fixture(scope="module", params=["migrated", pytest.param("empty", marks=pytest.mark.long)])
def command(request, release, django_db_setup):
    """`still-reed …` of that release, with its own database."""
    template = template_name() if request.param == "migrated" else "template1"
    server = settings.DATABASES["default"]
    with administration(server) as line:
        drop(line, NAME)
        create(line, NAME, template=template)
    who = f"{server['USER']}:{server['PASSWORD']}"
    environment = {
        **os.environ, **WHOLE, "PYTHONPATH": str(release), "PYTHONSAFEPATH": "1",
        "DATABASE_URL": f"postgres://{who}@{server['HOST']}:{server['PORT']}/{NAME}",
    }  # fmt: skip
    words = [sys.executable, "-c", "from web.config.command import main; main()"]

    def start_server(*more):
        return subprocess.Popen(
            [*words, *more], env=environment, cwd=release.parent, text=True,
            stdout=subprocess.PIPE, stderr=subprocess.STDOUT,
        )  # fmt: skip

    yield start_server
    with administration(server) as line:
        drop(line, NAME)


@pytest.fixture(scope="module")
def begun(command):
    """Return the output of preparing and creating a clinic with the release."""
    process = command("shell", "-v0", "-c", PREPARES)
    told, _ = process.communicate()
    assert process.returncode == 0, told
    return told


@pytest.fixture(scope="module")
def collected_files(command):
    """Return the output of collecting the static files."""
    process = command("collectstatic", "--noinput")
    told, _ = process.communicate()
    assert process.returncode == 0, told
    return told


LINK = re.compile(r"https://practice\.clinic\.example(/\S+)")


def test_the_wheel_alone_knows_and_begins_a_clinic(release, begun):
    assert f"{release}/web" in begun  # The release's own code, not the checkout's.
    assert LINK.search(begun)


def test_the_wheel_alone_collects_its_static_files(collected_files):
    assert "static files" in collected_files


def test_the_wheel_alone_serves_a_clinic(command, begun, collected_files):
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    serving = command("serve", "--port", str(port))
    try:
        page = open_page(port, "/sign-in/", serving)
        styles = re.search(r'href="(/static/\S+?\.css)"', page)[1]
        assert "@font-face" in open_page(port, styles, serving)
        assert "password" in open_page(port, LINK.search(begun)[1], serving)
        assert open_page(port, "/health/live", serving)
    finally:
        serving.terminate()
        serving.communicate()


def open_page(port, path, serving, patience_s=120):
    ends = time.monotonic() + patience_s
    while True:
        assert serving.poll() is None, serving.stdout.read()
        try:
            answer = requests.get(f"http://127.0.0.1:{port}{path}", headers=THROUGH, timeout=30)
        except requests.ConnectionError:
            assert time.monotonic() < ends
            time.sleep(0.1)  # Polling without a pause would slow the server down.
            continue
        assert answer.status_code == 200, (path, answer.text[:300])
        return answer.text
