"""Data of the version before come over whole: what could not be is set right and kept beside it."""

import json
import uuid
from datetime import date, timedelta

import pytest
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from reedcore.safety import Caution
from tests.factories import ClientFactory, trial
from web.clients.changes import changes_of_people
from web.clients.models import Stop
from web.decisions.models import ClientStatus, Decision
from web.practice.models import Session, Trial
from web.programmes.look import reason_before
from web.programmes.queries import current_programme

pytestmark = pytest.mark.django_db(transaction=True)

BEFORE = [("practice", "0002_sessions_and_marks"), ("clients", "0005_clinician_diagnosis_reading")]


RECORDS_BEFORE = [("clients", "0006_bounded_times"), ("programmes", "0002_documents_and_drafts")]


def migrate(*targets):
    executor = MigrationExecutor(connection)
    executor.migrate(list(targets) or executor.loader.graph.leaf_nodes())


@pytest.mark.long
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


@pytest.mark.long
def test_cautions_of_the_version_before_stay_and_being_ill_one_day_does_not(person, task):
    document = {"items": [], "overrules": {"caution_on_record:balloon": "agreed in May"}}
    migrate(*RECORDS_BEFORE)
    try:
        with connection.cursor() as cursor:
            cursor.execute(
                """update clients_client set cautions = '["acute_illness", "latex", "pressure"]'
                where id = %s""",
                [person.pk],
            )
            cursor.execute(
                "update programmes_programme set document = %s where id = %s",
                [json.dumps(document), task.programme_id],
            )
    finally:
        migrate()
    person.refresh_from_db()
    assert person.cautions == ["latex", "pressure"]
    # what nobody has allowed in so many words stops until somebody does
    assert {each.because for each in person.forbidden(on=date(2026, 1, 1)) if not each.allowed} == {
        Caution.LATEX, Caution.PRESSURE,
    }  # fmt: skip
    programme = current_programme(person)
    assert programme == task.programme
    assert programme.document == document
    # the reason of then is offered again, but overrules nothing by itself
    key = f"caution_on_record:balloon:latex@{person.caution_stamp('latex')}"
    assert reason_before(document["overrules"], key) == "agreed in May"


REVIEW_BEFORE = [
    *((app, None) for app in ("decisions", "notes", "client_messages", "scheduled")),
    ("review", "0006_decisions_remember"),
    ("practice", "0003_bounded_times"),
]


@pytest.mark.long
def test_what_was_decided_written_and_said_before_the_house_was_split(person, task, clinician):
    session = Session.objects.create(
        key=uuid.uuid4(), client=person, programme=task.programme, sort="full", day="usual",
        begun_at=task.programme.published_at,
    )  # fmt: skip
    migrate(*REVIEW_BEFORE)
    try:
        with connection.cursor() as cursor:
            cursor.execute(
                """insert into review_decision (client_id, task_id, step, because, facts, rests_on,
                accepted, why, decided_at, decided_by_id) values
                (%s, %s, 'advance', 'most_on_target', '{}', '[]', false, 'too_soon', now(), %s)""",
                [person.pk, task.pk, clinician.pk],
            )
            cursor.execute(
                """insert into review_rulesettings (client_id, changed)
                values (%s, '{"advance_share": 90}')""",
                [person.pk],
            )
            cursor.execute(
                """insert into review_note (client_id, kind, first, last, words, figures,
                edition, made_at, made_by_id, session_id) values (%s, 'session', '2026-11-01',
                '2026-11-01', '{"meaning": "Steadier."}', '{}', 1, now(), %s, %s)""",
                [person.pk, clinician.pk, session.pk],
            )
            cursor.execute(
                """insert into review_message (client_id, kind, "to", words, day, written_at)
                values (%s, 'missed', 'a@b.example', 'Hello', '2026-11-02', now())""",
                [person.pk],
            )
            cursor.execute(
                """insert into practice_mark (key, client_id, session_id, kind, value, said_at,
                received_at, device_time) values (%s, %s, %s, 'effort', '4', now(), now(), '')""",
                [uuid.uuid4(), person.pk, session.pk],
            )
    finally:
        migrate()
    (decision,) = Decision.objects.all()
    assert (decision.reason, decision.refusal_reason) == ("most_on_target", "too_soon")
    assert person.rule_settings.changed == {"advance_share": 90}
    assert person.notes.get().words == {"meaning": "Steadier."}
    assert person.messages.get().words == "Hello"
    assert person.self_reports.get().value == 4
    # and a change still makes the status stale, under the table's new name
    ClientStatus.objects.update_or_create(client=person, defaults={"stale": False})
    person.self_reports.update(value=5)
    assert ClientStatus.objects.get(client=person).stale


ALONE_BEFORE = [
    ("practice", "0005_sessions_on_a_trigger"), ("clients", "0009_shared_with"),
    ("accounts", "0010_second_step"),
]  # fmt: skip


@pytest.mark.long
def test_links_and_sessions_of_before_anybody_helped_and_how_people_stand(person, task, clinician):
    session = Session.objects.create(
        key=uuid.uuid4(), client=person, programme=task.programme, sort="full", day="usual",
        begun_at=task.programme.published_at,
    )  # fmt: skip
    code, account = person.practice_code, person.account_id
    migrate(*ALONE_BEFORE)
    migrate()
    session.refresh_from_db()
    assert session.helper is None
    person.refresh_from_db()
    assert (person.practice_code, person.account_id) == (code, account)
    (stood,) = clinician.history.all()
    assert (stood.role, stood.history_date) == ("clinician", clinician.date_joined)
    clinician.role = "auditor"
    clinician.save()
    (change,) = [each for each in changes_of_people(clinician.clinic) if each.lines]
    assert [line[0] for line in change.lines] == ["may"]


CAUTIONS_BEFORE = [("clients", "0012_stops_dealt_with")]


def test_what_a_screening_asked_before_and_the_bands_of_the_young_come_over(person):
    born = {years: date.today().replace(day=1) - timedelta(days=366 * years) for years in (10, 15)}
    teenager = ClientFactory(clinic=person.clinic)
    unknown = ClientFactory(clinic=person.clinic)
    migrate(*CAUTIONS_BEFORE)
    try:
        with connection.cursor() as cursor:
            cursor.execute("update clients_client set age_band = 'under-18'")
            for each, years in ((person, 10), (teenager, 15)):
                cursor.execute(
                    "update clients_client set born_on = %s, cautions = '[\"neck_jaw\"]' where id = %s",
                    [born[years], each.pk],
                )
    finally:
        migrate()
    for each in (person, teenager, unknown):
        each.refresh_from_db()
    assert [each.age_band for each in (person, teenager, unknown)] == [
        "under-13", "13-17", "under-18",
    ]  # fmt: skip
    assert person.cautions == ["neck_jaw"]
    screen = person.screens.get()
    assert "hearing" in screen.asked
    assert {Caution.PREGNANCY, Caution.BLOOD_THINNERS} <= screen.unasked
    assert Caution.LATEX not in screen.unasked
