"""Data of the version before come over whole: what could not be is set right and kept beside it."""

import uuid

import pytest
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from tests.factories import trial
from web.clients.models import Stop
from web.practice.models import Session, Trial

pytestmark = pytest.mark.django_db(transaction=True)

BEFORE = [("practice", "0002_sessions_and_marks"), ("clients", "0005_clinician_diagnosis_reading")]


def migrate(*targets):
    executor = MigrationExecutor(connection)
    executor.migrate(list(targets) or executor.loader.graph.leaf_nodes())


def test_times_beyond_all_calendars_and_stops_already_told(person, task):
    odd, usual, key = uuid.uuid4(), trial(task).pk, uuid.uuid4()
    made = Trial.objects.get(pk=usual).performed_at
    session = Session.objects.create(
        key=uuid.uuid4(), client=person, programme=task.programme, sort="full", day="usual",
        begun_at=made,
    )  # fmt: skip
    migrate(*BEFORE)
    try:
        with connection.cursor() as cursor:
            cursor.execute("select * from practice_trial where false")
            columns = ", ".join(
                each.name for each in cursor.description if each.name not in ("key", "performed_at")
            )
            cursor.execute(
                f"insert into practice_trial (key, performed_at, {columns}) "  # noqa: S608
                f"select %s, '9999-12-31 10:00+00', {columns} from practice_trial where key = %s",
                [odd, usual],
            )
            cursor.execute(
                "update practice_session set ended_at = '9999-01-01' where key = %s", [session.pk]
            )
            cursor.execute(
                "insert into clients_stop (key, client_id, flags, tier, pauses, comment, said_at, "
                "received_at, told, cleared_because) values (%s, %s, '[\"breathing\"]', "
                "'emergency', true, '', '0001-01-01', now(), '[\"a@b.example\"]', '')",
                [key, person.pk],
            )
    finally:
        migrate()
    mended = Trial.objects.get(pk=odd)
    assert mended.performed_at == task.programme.published_at
    assert mended.device_time.startswith("9999-12-31")
    assert Trial.objects.get(pk=usual).performed_at == made
    session.refresh_from_db()
    assert session.ended_at == session.begun_at
    kept = Stop.objects.get(pk=key)
    assert kept.said_at == kept.received_at
    assert kept.tells
    assert kept.delivered_at == kept.received_at
