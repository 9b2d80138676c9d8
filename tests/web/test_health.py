"""What watches the site is told the truth, and nobody else anything."""

import re
import uuid
from datetime import timedelta

import pytest
from django.db import OperationalError, connection
from django.utils import timezone
from procrastinate.contrib.django import app
from prometheus_client.parser import text_string_to_metric_families

from web.clients.models import Stop

pytestmark = pytest.mark.django_db
TOKEN = "a-token-of-the-clinic"
ASKS = {"HTTP_AUTHORIZATION": f"Bearer {TOKEN}"}


@pytest.fixture(autouse=True)
def watched(settings):
    settings.HEALTH_TOKEN = TOKEN


def beat(ago=timedelta(0)):
    """A worker that said so long ago that it lives."""
    with connection.cursor() as cursor:
        cursor.execute(
            "INSERT INTO procrastinate_workers (last_heartbeat) VALUES (%s)", [timezone.now() - ago]
        )


def of(client):
    answer = client.get("/health/ready", **ASKS)
    return answer.status_code, answer.json()


def test_it_is_alive_for_everybody_and_ready_for_who_has_the_token(client):
    assert client.get("/health/live").content == b"alive\n"
    for path in ("/health/ready", "/metrics"):
        assert client.get(path).status_code == 404
        assert client.get(path, HTTP_AUTHORIZATION="Bearer another").status_code == 404


def test_without_a_token_in_the_settings_nobody_can_ask(client, settings):
    settings.HEALTH_TOKEN = ""
    assert client.get("/health/ready", HTTP_AUTHORIZATION="Bearer ").status_code == 404


def test_it_is_ready_where_everything_stands(client):
    beat()
    status, told = of(client)
    assert (status, told["ready"]) == (200, True)
    assert told["migrations"]["is"] == "all applied"


def test_a_dead_worker_and_late_jobs_are_not_ready(client):
    beat(timedelta(minutes=3))
    job = app.configure_task("keep_statuses", schedule_at=timezone.now() - timedelta(hours=1))
    job.defer(timestamp=0)
    status, told = of(client)
    assert status == 503
    assert not told["worker"]["stands"]
    assert told["queue"] == {"stands": False, "is": "1 jobs are over ten minutes late"}


def test_a_stop_that_could_not_be_told_of_is_not_ready(client, person):
    beat()
    Stop.objects.create(
        key=uuid.uuid4(), client=person, flags=["strain"], tier="end_session", pauses=False,
        said_at=timezone.now(), tells=True, trouble="mail",
    )  # fmt: skip
    status, told = of(client)
    assert status == 503
    assert told["mail"]["is"] == "1 stops could not be told of by mail"


def test_a_database_that_is_away_is_said_and_is_no_fault(client, monkeypatch):
    def away(*args, **kwargs):
        raise OperationalError("away")

    monkeypatch.setattr(connection, "cursor", away)
    status, told = of(client)
    assert status == 503
    assert not told["database"]["stands"]


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
        if sample.labels.get("page", "clients:summary") == "clients:summary"
    }
    assert found["still_reed_requests_total"] >= 1
    assert found["still_reed_jobs_late"] == 0
    assert found["still_reed_worker_silent_seconds"] < 60


def test_a_made_up_method_makes_no_new_figure(client):
    client.generic("MADEUP", "/sign-in/")
    text = client.get("/metrics", **ASKS).content.decode()
    assert "MADEUP" not in text
    assert 'method="other"' in text
