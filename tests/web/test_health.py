"""Monitoring gets true figures, and nobody else gets any."""

import os
import re
import uuid
from datetime import timedelta

import pytest
from django.db import OperationalError, connection
from django.utils import timezone
from procrastinate.contrib.django import app
from prometheus_client.parser import text_string_to_metric_families

from web.scheduled.models import JobRun
from web.screening.models import Stop

pytestmark = pytest.mark.django_db
TOKEN = "a-token-of-the-clinic"
ASKS = {"HTTP_AUTHORIZATION": f"Bearer {TOKEN}"}


@pytest.fixture(autouse=True)
def watched(settings):
    settings.HEALTH_TOKEN = TOKEN


def beat(ago=timedelta(0)):
    """Create a worker with a heartbeat this long ago."""
    with connection.cursor() as cursor:
        cursor.execute(
            "INSERT INTO procrastinate_workers (last_heartbeat) VALUES (%s)", [timezone.now() - ago]
        )


def answer_of(client):
    answer = client.get("/health/ready", **ASKS)
    return answer.status_code, answer.json()


def test_liveness_is_public_and_readiness_needs_the_token(client):
    assert client.get("/health/live").content == b"alive\n"
    for path in ("/health/ready", "/metrics"):
        assert client.get(path).status_code == 404
        assert client.get(path, HTTP_AUTHORIZATION="Bearer another").status_code == 404


def test_metrics_are_closed_without_a_token_in_the_settings(client, settings):
    settings.HEALTH_TOKEN = ""
    assert client.get("/health/ready", HTTP_AUTHORIZATION="Bearer ").status_code == 404


def test_the_site_is_ready_if_every_service_is_up(client):
    beat()
    status, told = answer_of(client)
    assert (status, told["ready"]) == (200, True)
    assert told["migrations"]["is"] == "all applied"


def test_a_dead_worker_and_late_jobs_are_not_ready(client):
    beat(timedelta(minutes=3))
    job = app.configure_task("keep_statuses", schedule_at=timezone.now() - timedelta(hours=1))
    job.defer(timestamp=0)
    status, told = answer_of(client)
    assert status == 503
    assert not told["worker"]["stands"]
    assert told["queue"] == {"stands": False, "is": "1 jobs are more than 10 minutes late"}


def test_an_undelivered_stop_makes_the_site_not_ready(client, person):
    beat()
    Stop.objects.create(
        key=uuid.uuid4(), client=person, flags=["strain"], tier="end_session", pauses=False,
        said_at=timezone.now(), needs_alert=True, delivery_problem="mail",
    )  # fmt: skip
    status, told = answer_of(client)
    assert status == 503
    assert told["mail"]["is"] == "1 stop alerts could not be emailed"


def test_an_unreachable_database_is_reported_and_is_no_error(client, monkeypatch):
    def away(*args, **kwargs):
        raise OperationalError("away")

    monkeypatch.setattr(connection, "cursor", away)
    status, told = answer_of(client)
    assert status == 503
    assert not told["database"]["stands"]


def warnings_of(client):
    _, told = answer_of(client)
    return {name: told[name]["is"] for name in told["warnings"]}


def test_a_missing_optional_service_is_a_warning_and_the_site_stays_ready(client):
    beat()
    status, told = answer_of(client)
    assert status == 200
    assert set(told["warnings"]) == {"backup", "mail heartbeat"}
    assert told["backup"]["is"] == "no backup yet"


def test_backups_and_mails_warn_where_they_failed_or_are_late(client, settings):
    beat()
    for what in JobRun.Job.values:
        JobRun.objects.create(job=what, succeeded=True, message="here")
    assert warnings_of(client) == {}
    JobRun.objects.create(job=JobRun.Job.BACKUP, succeeded=False, message="the disk is full")
    assert warnings_of(client) == {"backup": "the last one failed: the disk is full"}
    JobRun.objects.update(finished_at=timezone.now() - timedelta(hours=27), succeeded=True)
    assert set(warnings_of(client)) == {"backup", "mail heartbeat"}
    assert "none since" in warnings_of(client)["backup"]
    settings.BACKUP_EVERY_H = 0
    assert set(warnings_of(client)) == {"mail heartbeat"}


def test_jobs_that_were_given_up_warn_for_a_week(client):
    beat()
    job = app.configure_task("keep_statuses").defer(timestamp=0)
    with connection.cursor() as cursor:
        cursor.execute("UPDATE procrastinate_jobs SET status = 'failed' WHERE id = %s", [job])
    assert warnings_of(client)["jobs"] == "1 failed in the last 7 days"
    with connection.cursor() as cursor:
        cursor.execute("UPDATE procrastinate_events SET at = now() - interval '8 days'")
    assert "jobs" not in warnings_of(client)


def test_an_unwritable_journal_and_a_missing_disk_are_warnings(client, settings, tmp_path):
    beat()
    settings.DATABASE_DISK = str(tmp_path / "nowhere")
    (tmp_path / "shut").mkdir(mode=0o500)
    settings.JOURNAL_FOLDER = str(tmp_path / "shut" / "journal")
    found = warnings_of(client)
    assert "cannot be checked" in found["database disk"]
    if os.geteuid():  # root can write anywhere.
        assert "cannot be written to" in found["journal"]


def test_the_databases_own_disk_takes_it_out_of_service_when_full(client, settings, monkeypatch):
    beat()
    settings.DATABASE_DISK = "/var/lib/postgresql"
    usage = type("Usage", (), {"free": 1})
    monkeypatch.setattr("shutil.disk_usage", lambda path: usage)
    status, told = answer_of(client)
    assert status == 503
    assert not told["database disk"]["stands"]


def test_the_figures_tell_the_queues_age_and_that_of_the_last_backup(client, settings):
    settings.DATABASE_DISK = "/"
    beat()
    app.configure_task("keep_statuses", schedule_at=timezone.now() - timedelta(hours=1)).defer(
        timestamp=0
    )
    JobRun.objects.create(
        job=JobRun.Job.BACKUP, succeeded=True, finished_at=timezone.now() - timedelta(hours=2)
    )
    JobRun.objects.create(job=JobRun.Job.MAIL, succeeded=False)
    text = client.get("/metrics", **ASKS).content.decode()
    found = {
        sample.name.removeprefix("still_reed_"): sample.value
        for family in text_string_to_metric_families(text)
        for sample in family.samples
    }
    assert found["queue_age_seconds"] == pytest.approx(3600, abs=60)
    assert found["backup_age_seconds"] == pytest.approx(7200, abs=60)
    assert (found["backup_failed"], found["mail_heartbeat_failed"]) == (0, 1)
    assert (
        found["mail_heartbeat_age_seconds"] != found["mail_heartbeat_age_seconds"]
    )  # Not known yet.
    assert min(found["database_bytes"], found["database_disk_free_bytes"]) > 1e6


def test_the_figures_can_be_read_and_count_pages_by_name(client, as_clinician, person):
    beat()
    as_clinician.get(f"/clients/{person.pk}/record/")
    text = client.get("/metrics", **ASKS).content.decode()
    pages = re.findall(r'page="([^"]*)"', text)
    assert pages
    assert not [page for page in pages if re.search(r"\d", page)]
    found = {
        sample.name: sample.value
        for family in text_string_to_metric_families(text)
        for sample in family.samples
        if sample.labels.get("page", "record:summary") == "record:summary"
    }
    assert found["still_reed_requests_total"] >= 1
    assert found["still_reed_jobs_late"] == 0
    assert found["still_reed_worker_silent_seconds"] < 60


def test_a_made_up_method_makes_no_new_figure(client):
    client.generic("MADEUP", "/sign-in/")
    text = client.get("/metrics", **ASKS).content.decode()
    assert "MADEUP" not in text
    assert 'method="other"' in text
