"""A release, in short: the wheel alone, without the checkout, knows a clinic's tables, begins it and
serves it. `make rehearse` follows the whole guide, with its packages, nginx and units."""

import os
import re
import shutil
import socket
import subprocess
import sys
import time
import zipfile

import psycopg
import pytest
import requests
from django.conf import settings
from django.db import connection

from tests.database import create, template_name
from tests.hostile.test_settings_and_faults import WHOLE

pytestmark = pytest.mark.django_db(transaction=True)

NAME = "still_reed_released"
#: What is no part of a release, and large.
BESIDE = (
    ".*",
    "node_modules",
    "test-results",
    "build",
    "dist",
    "collected",
    "__pycache__",
    "tests",
)
#: As the proxy before it says.
THROUGH = {"Host": WHOLE["ALLOWED_HOSTS"], "X-Forwarded-Proto": "https"}


#: What the guide does with three commands, in one process.
PREPARES = """
from django.core.management import call_command
import web
print(web.__path__)
call_command("migrate", verbosity=0)
call_command("migrate", check_unapplied=True)
call_command("collectstatic", interactive=False)
"""


@pytest.fixture
def release(tmp_path):
    """The wheel's files in a folder of their own; made from a copy, for the building leaves some."""
    shutil.copytree(settings.ROOT, tmp_path / "tree", ignore=shutil.ignore_patterns(*BESIDE))
    build = [settings.ROOT / ".local/tools/bin/uv", "build", "-q", "--wheel"]
    subprocess.run([*build, "--out-dir", tmp_path / "dist", tmp_path / "tree"], check=True)
    (wheel,) = (tmp_path / "dist").glob("*.whl")
    with zipfile.ZipFile(wheel) as packed:
        packed.extractall(tmp_path / "released")
    return tmp_path / "released"


@pytest.fixture(params=["migrated", pytest.param("empty", marks=pytest.mark.long)])
def command(request, release, tmp_path):
    """`still-reed …` of that release, with a database of its own."""
    template = template_name() if request.param == "migrated" else "template1"
    at = connection.settings_dict
    there = f"{at['HOST']}:{at['PORT']}"
    admin = f"postgres://{at['USER']}:{at['PASSWORD']}@{there}/postgres"
    with psycopg.connect(admin, autocommit=True) as line:
        line.execute(f"DROP DATABASE IF EXISTS {NAME} WITH (FORCE)")
        create(line, NAME, template=template)
    environment = {
        **os.environ, **WHOLE, "PYTHONPATH": str(release), "PYTHONSAFEPATH": "1",
        "DATABASE_URL": admin.replace("/postgres", f"/{NAME}"),
    }  # fmt: skip
    words = [sys.executable, "-c", "from web.config.command import main; main()"]

    def started(*more):
        return subprocess.Popen(
            [*words, *more], env=environment, cwd=tmp_path, text=True,
            stdout=subprocess.PIPE, stderr=subprocess.STDOUT,
        )  # fmt: skip

    yield started
    with psycopg.connect(admin, autocommit=True) as line:
        line.execute(f"DROP DATABASE {NAME} WITH (FORCE)")


def said(process):
    told, _ = process.communicate()
    assert process.returncode == 0, told
    return told


def test_the_wheel_alone_knows_begins_and_serves_a_clinic(command, release):
    told = said(command("shell", "-v0", "-c", PREPARES))
    assert f"{release}/web" in told  # of the release, not of the checkout
    assert "static files" in told
    begun = said(
        command(
            "begin", "--clinic", "Saltmarsh", "--lead", "Imre Halloran", "--mail",
            "imre@saltmarsh.example", "--time-zone", "Europe/Lisbon",
        )
    )  # fmt: skip
    link = re.search(r"https://practice\.clinic\.example(/\S+)", begun)[1]
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    serving = command("serve", "--port", str(port))
    try:
        page = opened(port, "/sign-in/", serving)
        styles = re.search(r'href="(/static/\S+?\.css)"', page)[1]
        assert "@font-face" in opened(port, styles, serving)
        assert "password" in opened(port, link, serving)
        assert opened(port, "/health/live", serving)
    finally:
        serving.terminate()
        serving.communicate()


def opened(port, path, serving, patience_s=120):
    ends = time.monotonic() + patience_s
    while True:
        assert serving.poll() is None, serving.stdout.read()
        try:
            answer = requests.get(f"http://127.0.0.1:{port}{path}", headers=THROUGH, timeout=30)
        except requests.ConnectionError:
            assert time.monotonic() < ends
            continue
        assert answer.status_code == 200, (path, answer.text[:300])
        return answer.text
