"""Messages to the site's administrator, and commands that need no database."""

import os
import subprocess
import sys
import threading
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path

import pytest
from django.core import mail
from django.core.management import CommandError, call_command

from tests.hostile.smtp import Letters
from web.config import command
from web.scheduled.heartbeat import mail_ourselves
from web.scheduled.models import JobRun
from web.ui.version import version

pytestmark = pytest.mark.django_db
ROOT = Path(__file__).resolve().parents[2]


def test_a_mail_goes_out_on_demand_and_is_on_record(settings, capsys):
    settings.ALERTS_TO = "operations@clinic.example"
    call_command("check", mail="")
    (sent,) = mail.outbox
    assert sent.to == ["operations@clinic.example"]
    assert "A test email was sent to" in capsys.readouterr().out
    call_command("check", mail="me@clinic.example")
    assert mail.outbox[-1].to == ["me@clinic.example"]
    assert [each.succeeded for each in JobRun.objects.filter(job=JobRun.Job.MAIL)] == [True, True]


def test_without_a_mail_server_it_fails_and_says_why(settings):
    settings.EMAIL_BACKEND = "django.core.mail.backends.smtp.EmailBackend"
    settings.EMAIL_HOST, settings.EMAIL_PORT = "127.0.0.1", 9
    with pytest.raises(CommandError, match="EMAIL_URL"):
        call_command("check", mail="")
    assert "ConnectionRefusedError" in JobRun.objects.get(succeeded=False).message


def test_the_daily_mail_goes_to_the_sender_address_unless_set_otherwise(settings):
    settings.ALERTS_TO, settings.DEFAULT_FROM_EMAIL = "", "Still Reed <practice@clinic.example>"
    assert mail_ourselves().message == "to practice@clinic.example"


def test_the_check_reads_only_the_settings_unless_a_mail_is_requested():
    call_command("check")
    assert not mail.outbox
    assert not JobRun.objects.exists()


def test_a_failed_unit_is_reported_without_a_database(tmp_path):
    letters = Letters()
    told = {
        **os.environ,
        "DJANGO_SETTINGS_MODULE": "web.config.settings.test",
        "DATABASE_URL": "postgres://nobody@127.0.0.1:9/nothing",
        "EMAIL_URL": letters.url,
        "ALERTS_TO": "operations@clinic.example",
    }
    try:
        runs = [sys.executable, "-m", "web.config.command", "notify-failure", "still-reed-worker"]
        subprocess.run(runs, cwd=ROOT, env=told, check=True, capture_output=True)
    finally:
        letters.close()
    (letter,) = letters.letters
    assert letter["To"] == "operations@clinic.example"
    assert "still-reed-worker has failed" in letter["Subject"]


def run_command(monkeypatch, *words):
    # Settings of a site installed on this machine must not reach the test process.
    monkeypatch.setattr(command, "ENVIRONMENT", Path("/nowhere/environment"))
    monkeypatch.setattr("sys.argv", ["still-reed", *words])
    command.main()


def test_the_version_is_printed_and_shown(monkeypatch, capsys, as_clinician):
    run_command(monkeypatch, "version")
    assert capsys.readouterr().out.strip() == version()
    assert f"version {version()}" in as_clinician.get("/clients/clinic/").content.decode()


class Site(BaseHTTPRequestHandler):
    """Sends requests as a site's proxy does."""

    def do_GET(self):
        self.send_response(200 if self.headers["Host"] == "practice.clinic.example" else 400)
        self.end_headers()

    def log_message(self, *args):
        pass


def test_a_container_asks_as_its_proxy_would(monkeypatch):
    monkeypatch.setenv("ALLOWED_HOSTS", "practice.clinic.example,other.example")
    site = HTTPServer(("127.0.0.1", 0), Site)
    threading.Thread(target=site.serve_forever, daemon=True).start()
    port = str(site.server_address[1])
    try:
        run_command(monkeypatch, "alive", "--port", port)
        monkeypatch.setenv("ALLOWED_HOSTS", "other.example")
        with pytest.raises(SystemExit, match="it answers 400"):
            run_command(monkeypatch, "alive", "--port", port)
    finally:
        site.shutdown()
        site.server_close()
    with pytest.raises(SystemExit, match="nothing answers"):
        run_command(monkeypatch, "alive", "--port", port)


def test_figures_of_several_processes_have_a_folder_and_no_other_command_touches_it(
    monkeypatch, tmp_path
):
    folder = tmp_path / "made" / "for it"
    monkeypatch.setenv(command.FIGURES, str(folder))
    command._collect_figures()
    assert folder.is_dir()
    gone, here = folder / "gauge_livesum_999999999.db", folder / f"gauge_livesum_{os.getpid()}.db"
    for each in (gone, here):
        each.write_bytes(b"")
    command._collect_figures()
    assert (gone.exists(), here.exists()) == (False, True)
    (tmp_path / "file").write_text("")
    monkeypatch.setenv(command.FIGURES, str(tmp_path / "file" / "below"))
    with pytest.raises(SystemExit, match="cannot be made"):
        command._collect_figures()
    monkeypatch.setattr("django.core.management.execute_from_command_line", lambda words: None)
    run_command(monkeypatch, "migrate")
    assert command.FIGURES not in os.environ
