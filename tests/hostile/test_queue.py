"""The queue of stop alerts: killed workers, a silent mail server, no database, repeated presses of
one client. Each letter arrives once, and soon."""

import os
import signal
import subprocess
import sys
import threading
import time
import uuid
from datetime import timedelta

import pytest
from django.conf import settings
from django.core import mail
from django.db import OperationalError, connection
from django.urls import reverse
from django.utils import timezone
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob

from tests.database import administration
from tests.factories import ClientFactory, ClinicianFactory, prescribe
from tests.hostile.smtp import Letters
from tests.hostile.test_entries import stop
from tests.jobs import run_jobs
from web.decisions.models import ClientStatus
from web.scheduled import client_status
from web.screening.actions import pass_on_stops, record_stop, send_due_alerts
from web.screening.actions.stop_alerts import send_alert_if_due
from web.screening.models import Stop

pytestmark = pytest.mark.django_db(transaction=True)

#: The bar: delivered once within this time.
WITHIN_S = 120


@pytest.fixture
def reachable(clinician, clinic, person, task):
    clinician.email = "imre@saltmarsh.example"
    clinician.save()
    clinic.deputy = ClinicianFactory(clinic=clinic, email="odalys@saltmarsh.example")
    clinic.lead = ClinicianFactory(clinic=clinic, email="lead@saltmarsh.example")
    clinic.save()
    return person


@pytest.fixture
def letters():
    server = Letters()
    yield server
    server.close()


@pytest.fixture
def worker(letters):
    """Start workers as a clinic does; end those that still run."""
    started = []
    database = connection.settings_dict
    address = (
        f"postgres://{database['USER']}:{database['PASSWORD']}@{database['HOST']}"
        f":{database['PORT']}/{database['NAME']}"
    )
    environment = {**os.environ, "DATABASE_URL": address, "EMAIL_URL": letters.url,
                   "DJANGO_SETTINGS_MODULE": "web.config.settings.test"}  # fmt: skip

    def start():
        words = [sys.executable, "manage.py", "worker"]
        root = settings.ROOT
        started.append(subprocess.Popen(words, env=environment, cwd=root))
        return started[-1]

    yield start
    for each in started:
        if each.poll() is None:
            each.terminate()
            try:
                each.wait(20)
            except subprocess.TimeoutExpired:
                each.kill()
                each.wait(10)


def until(true, seconds=WITHIN_S):
    ends = time.monotonic() + seconds
    while True:
        try:
            if true():
                return
        except OperationalError:
            pass  # The test's own connections were closed as well.
        assert time.monotonic() < ends, "it did not come to that"
        connection.close()
        threading.Event().wait(0.5)  # Each look opens a connection, which takes processor time.


def emergency(person):
    return record_stop(
        person, key=uuid.uuid4(), flags=["breathing"], said_at=timezone.now(),
        clinicians=[person.programmes.first().published_by],
    )  # fmt: skip


@pytest.mark.waits
def test_a_worker_killed_in_the_middle_of_a_letter_loses_nothing(reachable, letters, worker):
    letters.thinks.clear()
    first = worker()
    emergency(reachable)
    until(lambda: letters.talks >= 1)
    until(lambda: ProcrastinateJob.objects.filter(status="doing").exists())
    first.send_signal(signal.SIGKILL)
    first.wait(10)
    letters.letters.clear()
    letters.thinks.set()
    worker()
    until(lambda: Stop.objects.get().delivered_at is not None)
    # At some times of day the worker also sends its daily test email.
    told = [letter for letter in letters.letters if "odalys@saltmarsh.example" in letter["To"]]
    assert len({letter["Message-ID"] for letter in told}) == 1
    assert told[-1]["To"] == "imre@saltmarsh.example, odalys@saltmarsh.example"


@pytest.mark.waits
def test_a_database_that_was_away_and_a_mute_mail_server_hold_up_nothing(
    reachable, letters, worker
):
    letters.mute.set()
    worker()
    emergency(reachable)
    until(lambda: letters.talks >= 1)
    # Close every connection, as a restart would.
    with connection.cursor() as cursor:
        cursor.execute(
            "select pg_terminate_backend(pid) from pg_stat_activity "
            "where datname = current_database() and pid <> pg_backend_pid()"
        )
    until(lambda: Stop.objects.get().delivery_problem == "mail_away" or letters.talks >= 2)
    letters.mute.clear()
    until(lambda: Stop.objects.get().delivered_at is not None)
    assert len({letter["Message-ID"] for letter in letters.letters}) == 1


def workers():
    """Return the number of workers with a heartbeat."""
    with connection.cursor() as cursor:
        cursor.execute("select count(*) from procrastinate_workers")
        return cursor.fetchone()[0]


@pytest.mark.waits
def test_the_worker_waits_for_a_database_that_stays_away(reachable, letters, worker, is_long):
    """As after a power cut: the database refuses connections for longer than the worker's own
    timeout of thirty seconds."""
    away_s = 120 if is_long else 40
    process = worker()
    until(lambda: workers() > 0)
    name = connection.settings_dict["NAME"]
    terminate = "select pg_terminate_backend(pid) from pg_stat_activity where datname = %s"
    with administration(connection.settings_dict) as admin:
        admin.execute(f'alter database "{name}" with allow_connections false')
        try:
            for _ in range(4 * away_s):
                admin.execute(terminate, [name])
                assert process.poll() is None
                threading.Event().wait(0.25)
        finally:
            admin.execute(f'alter database "{name}" with allow_connections true')
    connection.close_pool()
    connection.close()
    emergency(reachable)
    until(lambda: Stop.objects.get().delivered_at is not None)
    assert process.poll() is None


PERIODIC = ("tell_of_all_stops", "keep_statuses", "remind", "digests")


@pytest.mark.parametrize("name", PERIODIC)
def test_a_periodic_job_whose_worker_died_is_taken_up_and_holds_up_no_other(
    reachable, letters, worker, name
):
    with connection.cursor() as cursor:  # The state that a killed worker leaves.
        cursor.execute(
            "insert into procrastinate_workers (last_heartbeat) values (now() - interval '1 hour') "
            "returning id"
        )
        dead = cursor.fetchone()[0]
        cursor.execute(
            "insert into procrastinate_jobs (queue_name, task_name, priority, args, status, "
            "attempts, queueing_lock, worker_id) values (%s, %s, 0, '{\"timestamp\": 0}', 'doing', "
            "0, %s, %s) returning id",
            [app.tasks[name].queue, name, name, dead],
        )
        job = cursor.fetchone()[0]
    emergency(reachable)
    worker()
    until(lambda: Stop.objects.get().delivered_at is not None)
    # The job is done and deleted, or a newer one of the same name replaced it.
    until(lambda: not ProcrastinateJob.objects.filter(pk=job, status="doing").exists())


@pytest.fixture
def sent_at(clock):
    """Set the time of sending, and return it."""

    def at(moment):
        clock(moment)
        return moment

    return at


def test_twenty_stops_in_a_minute_make_one_letter_with_a_count(client, reachable, sent_at):
    begun = timezone.now()
    for number in range(20):
        sent_at(begun + timedelta(seconds=2.5 * number))
        assert stop(client, reachable, flags=["new_pain"]).status_code == 200
        run_jobs()
    sent_at(begun + timedelta(seconds=61))
    run_jobs()
    (letter,) = mail.outbox
    assert letter.subject.endswith("T.O. (20)")
    assert "20 times" in letter.body
    assert not Stop.objects.filter(delivered_at=None).exists()


def test_an_emergency_is_sent_at_once_and_a_mistaken_stop_can_be_withdrawn(
    client, reachable, sent_at, as_client
):
    begun = sent_at(timezone.now())
    stop(client, reachable, flags=["breathing"])
    run_jobs()
    assert len(mail.outbox) == 1
    key = str(uuid.uuid4())
    stop(client, reachable, key=key, flags=["new_pain"])
    sent_at(begun + timedelta(seconds=20))
    assert stop(client, reachable, key=key, taken_back=True).json()["goes_on"] is True
    sent_at(begun + timedelta(seconds=200))
    run_jobs()
    send_due_alerts()
    assert len(mail.outbox) == 1
    both = Stop.objects.get(key=key)
    assert both.cancelled_at is not None
    assert "pressed by mistake" in both.cleared_because
    # An emergency withdrawn as a mistake stays for the clinician to clear.
    first = Stop.objects.exclude(key=key).get()
    answer = stop(client, reachable, key=str(first.pk), taken_back=True).json()
    assert answer["goes_on"] is False
    first.refresh_from_db()
    assert (first.cancelled_at is None, first.cleared_at) == (False, None)


def test_an_undeliverable_mail_is_on_the_board_and_goes_to_the_lead(
    as_clinician, reachable, sent_at, settings
):
    settings.EMAIL_BACKEND = "django.core.mail.backends.smtp.EmailBackend"
    settings.EMAIL_HOST, settings.EMAIL_PORT = "127.0.0.1", 9  # No worker is running.
    begun = timezone.now()
    emergency(reachable)
    send_alert_if_due(reachable)
    page = as_clinician.get(reverse("decisions:board")).content.decode()
    assert "Not yet delivered: the mail server refused the email" in page
    settings.EMAIL_BACKEND = "django.core.mail.backends.locmem.EmailBackend"
    sent_at(begun + timedelta(minutes=4))
    pass_on_stops()
    assert not mail.outbox
    sent_at(begun + timedelta(minutes=6))
    pass_on_stops()
    pass_on_stops()
    (letter,) = mail.outbox
    assert letter.to == ["lead@saltmarsh.example"]
    assert "could not be delivered" in letter.body


def test_the_board_warns_if_nobody_has_a_mail_address(as_clinician, person, task):
    emergency(person)
    send_alert_if_due(person)
    page = as_clinician.get(reverse("decisions:board")).content.decode()
    assert "no recipient has an email address. Add one for the clinician and the deputy" in page


def test_an_error_for_one_client_leaves_the_others_on_the_board(
    as_clinician, clinician, clinic, person, task, monkeypatch
):
    other = ClientFactory(clinic=clinic, name="Abel Sound")
    prescribe(other, by=clinician)
    from web.decisions import client_status as status

    usual = status._compute_status

    def fails(kept, history, today):
        if history.client.pk == person.pk:
            raise ZeroDivisionError
        usual(kept, history, today)

    monkeypatch.setattr(status, "_compute_status", fails)
    client_status.keep_statuses()
    page = as_clinician.get(reverse("decisions:board")).content.decode()
    assert "Abel Sound" in page
    assert "could not be computed" in page
    assert ClientStatus.objects.get(client=person).fault in page
    assert not ClientStatus.objects.get(client=other).stale
