"""The access log, and erased records."""

import json
from datetime import timedelta

import pytest
from django.core.cache import cache
from django.db import connection, transaction
from django.db.utils import ProgrammingError
from django.urls import reverse
from django.utils import timezone
from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob
from psycopg import sql

from tests.factories import ClientFactory, ClinicianFactory, item, publish_anyway, simple_document
from tests.jobs import run_jobs
from tests.web.signing_in import signed_in
from tests.web.test_access import a_decision, a_note, a_stop
from web.accounts.models import AccessLogEntry
from web.clients.models import Client, Erasure
from web.scheduled.retention import JOBS, PLANNED, erase_expired, list_expired
from web.screening.jobs import alert_of_stops

pytestmark = pytest.mark.django_db
NAME = "Tamsin Orrell"


@pytest.fixture(autouse=True)
def nothing_opened_yet():
    cache.clear()


@pytest.fixture
def clinic_lead(clinic, clinician):
    clinic.lead = clinician
    clinic.save()
    return clinician


def lines():
    return list(AccessLogEntry.objects.order_by("pk").values_list("kind", "page", "record"))


def test_opening_printing_and_exporting_are_in_the_access_log(as_clinician, person, prescribed):
    as_clinician.get(f"/clients/{person.pk}/record/")
    as_clinician.get(f"/clients/{person.pk}/record/")  # The same, a moment later.
    as_clinician.get(f"/clients/{person.pk}/programmes/1/handout.pdf")
    as_clinician.get(f"/clients/{person.pk}/tries.csv")
    as_clinician.post(f"/clients/{person.pk}/archive/")
    as_clinician.get("/clients/99999/record/")  # A link of no client.
    assert lines() == [
        ("opened", "record:summary", person.pk),
        ("printed", "programmes:handout_pdf", person.pk),
        ("taken_out", "exports:tries_csv", person.pk),
        ("changed", "clients:archive", person.pk),
    ]


def test_a_record_that_is_shown_with_an_error_is_opened_and_not_changed(as_clinician, person):
    as_clinician.post(f"/clients/{person.pk}/record/change/", {"name": ""})
    as_clinician.get(f"/clients/{person.pk}/programmes/99/")
    refused = as_clinician.post(
        f"/clients/{person.pk}/compose/edit/", "torn", content_type="application/json"
    )
    assert refused.status_code == 422
    assert lines() == [
        ("opened", "clients:record", person.pk),
        ("opened", "programmes:edit", person.pk),
    ]


@pytest.mark.parametrize("said", ["nonsense", "'; DROP", "fe80::1%eth0", ""])
def test_an_invalid_forwarded_address_loses_no_log_line(as_clinician, person, settings, said):
    settings.TRUSTED_PROXY_HOPS = 1
    page = as_clinician.get(f"/clients/{person.pk}/record/", headers={"X-Forwarded-For": said})
    assert page.status_code == 200
    (line,) = AccessLogEntry.objects.all()
    assert line.address == {"fe80::1%eth0": "fe80::1", "": "127.0.0.1"}.get(said)


def test_a_clients_sign_in_does_not_open_records(as_client, prescribed):
    as_client.get("/practice/")
    assert lines() == []


def test_no_line_can_be_changed_or_taken_out(as_clinician, person):
    as_clinician.get(f"/clients/{person.pk}/record/")
    for change in (
        lambda: AccessLogEntry.objects.update(page="another"),
        lambda: AccessLogEntry.objects.all()._raw_delete("default"),
    ):
        with pytest.raises(ProgrammingError, match="kept as it is"), transaction.atomic():
            change()
    assert AccessLogEntry.objects.count() == 1


def test_the_lead_alone_sees_who_opened_what(as_clinician, clinic_lead, clinic, person):
    other = ClinicianFactory(clinic=clinic)
    signed_in(other).get(f"/clients/{person.pk}/record/")
    page = as_clinician.get(reverse("clinic:opened"), {"by": other.pk}).content.decode()
    assert NAME in page
    assert other.get_full_name() in page
    table = as_clinician.get(reverse("clinic:opened"), {"form": "csv", "record": person.pk})
    assert table.content.decode().splitlines()[1].split(",")[1:5] == [
        other.username, str(person.pk), NAME, "opened",
    ]  # fmt: skip
    assert signed_in(other).get(reverse("clinic:opened")).status_code == 404
    assert as_clinician.get(reverse("clinic:opened"), {"by": "²", "record": "x"}).status_code == 200


def test_lines_end_when_the_clinic_keeps_them_no_longer(as_clinician, person, monkeypatch):
    as_clinician.get(f"/clients/{person.pk}/record/")
    later = timezone.now() + timedelta(days=1094)
    monkeypatch.setattr("django.utils.timezone.now", lambda: later)
    assert erase_expired()["lines of who opened what"] == 0
    monkeypatch.setattr("django.utils.timezone.now", lambda: later + timedelta(days=2))
    assert erase_expired()["lines of who opened what"] == 1
    assert lines() == []


def rows_mentioning(words):
    """Return (table, count) of every row in the database that contains these words."""
    found = {}
    with connection.cursor() as cursor:
        for table in connection.introspection.table_names(cursor):
            query = sql.SQL("SELECT count(*) FROM {} AS t WHERE t::text LIKE %s")
            cursor.execute(query.format(sql.Identifier(table)), [f"%{words}%"])
            if count := cursor.fetchone()[0]:
                found[table] = count
    return found


def rows_by_key(pk):
    """Return (table, count) of every row with this client's number."""
    found = {}
    with connection.cursor() as cursor:
        cursor.execute(
            "SELECT table_name FROM information_schema.columns"
            " WHERE column_name = 'client_id' AND table_schema = 'public'"
        )
        for (table,) in cursor.fetchall():
            query = sql.SQL("SELECT count(*) FROM {} WHERE client_id = %s")
            cursor.execute(query.format(sql.Identifier(table)), [pk])
            if count := cursor.fetchone()[0]:
                found[table] = count
    return found


@pytest.fixture
def lived_in(as_clinician, as_client, person, clinician, prescribed):
    """A record with data of every kind, next to another one."""
    for each in (person, ClientFactory(clinic=person.clinic, name="Bran Keeling")):
        programme = publish_anyway(each, simple_document(item("hum_hold")), by=clinician)
        a_stop(each)
        a_note(each, by=clinician)
        a_decision(programme.tasks.first())
    as_clinician.post(f"/clients/{person.pk}/baselines/")
    form = {
        "form": f"/clients/{person.pk}/record/ record",
        "fields": {"goals": [f"{NAME} sings", ""]},
    }
    as_clinician.post("/unsaved/", json.dumps(form), content_type="application/json")
    as_client.get("/practice/")
    app.configure_task("tell_of_stops", schedule_in={"days": 30}).defer(client=person.pk)
    return person


def test_a_record_is_erased_when_its_term_is_over_and_nothing_is_left(
    as_clinician, clinic_lead, lived_in, monkeypatch
):
    pk, account = lived_in.pk, lived_in.account_id
    page = reverse("clinic:erase", args=[pk])
    asked = {"why": "asked for by themself", "name": NAME}
    as_clinician.post(page, asked)
    assert Erasure.objects.count() == 0  # It is not archived.
    as_clinician.post(f"/clients/{pk}/archive/")
    as_clinician.post(page, {**asked, "name": "Bran Keeling"})
    as_clinician.post(page, {**asked, "why": " "})
    assert Erasure.objects.count() == 0
    as_clinician.post(page, asked)
    as_clinician.post(page, asked)  # A second export is the same one.
    (planned,) = Erasure.objects.all()
    assert erase_expired()["records erased"] == 0
    others = rows_mentioning("Bran Keeling")
    monkeypatch.setattr("django.utils.timezone.now", lambda: planned.due_at + timedelta(minutes=1))
    assert erase_expired()["records erased"] == 1
    assert rows_mentioning(NAME) == {}
    assert rows_by_key(pk) == {}
    assert not ProcrastinateJob.objects.filter(args__client=pk).exists()
    alert_of_stops(client=pk)  # One whose work is done meanwhile does nothing.
    assert not Client.objects.filter(pk=pk).exists()
    assert not type(clinic_lead).objects.filter(pk=account).exists()
    assert rows_mentioning("Bran Keeling") == others
    planned.refresh_from_db()
    assert (planned.record, planned.reason, planned.asked_by) == (pk, asked["why"], clinic_lead)
    assert planned.done_at is not None
    left = signed_in(clinic_lead).get(reverse("clinic:erased")).content.decode()
    assert "asked for by themself" in left


def test_an_erasure_can_be_cancelled_until_it_is_due(
    as_clinician, clinic_lead, lived_in, monkeypatch
):
    as_clinician.post(f"/clients/{lived_in.pk}/archive/")
    as_clinician.post(
        reverse("clinic:erase", args=[lived_in.pk]), {"why": "a mistake", "name": NAME}
    )
    as_clinician.post(reverse("clinic:keep", args=[lived_in.pk]))
    later = timezone.now() + timedelta(days=90)
    monkeypatch.setattr("django.utils.timezone.now", lambda: later)
    assert erase_expired()["records erased"] == 0
    assert Client.objects.filter(pk=lived_in.pk).exists()


def test_a_record_that_is_put_back_is_not_erased(as_clinician, clinic_lead, lived_in, monkeypatch):
    as_clinician.post(f"/clients/{lived_in.pk}/archive/")
    page = reverse("clinic:erase", args=[lived_in.pk])
    as_clinician.post(page, {"why": "moved away", "name": NAME})
    as_clinician.post(f"/clients/{lived_in.pk}/restore/")
    (planned,) = Erasure.objects.all()
    assert planned.cancelled_by == clinic_lead
    later = timezone.now() + timedelta(days=90)
    monkeypatch.setattr("django.utils.timezone.now", lambda: later)
    assert erase_expired()["records erased"] == 0
    # Nor if it was restored in another way.
    Erasure.objects.update(cancelled_at=None)
    assert erase_expired()["records erased"] == 0
    assert Client.objects.filter(pk=lived_in.pk).exists()


def test_a_record_past_its_retention_is_scheduled_for_erasure_announced_and_can_be_kept(
    clinic_lead, clinic, person, monkeypatch, mailoutbox
):
    clinic_lead.email = "lead@clinic.example"
    clinic_lead.save()
    young = ClientFactory(clinic=clinic)
    now = timezone.now()
    for each, years in ((person, 10.1), (young, 9.9)):
        each.archived_at = now - timedelta(days=365.25 * years)
        each.save()
    assert erase_expired()[PLANNED] == 0  # Never, unless the clinic sets a limit.
    clinic.archived_kept_years = 10
    clinic.save()
    assert list_expired()[PLANNED] == 1
    assert [erase_expired()[PLANNED] for _ in range(2)] == [1, 0]
    (planned,) = Erasure.objects.all()
    assert (planned.record, planned.asked_by) == (person.pk, None)
    run_jobs()
    (mail,) = mailoutbox
    assert mail.to == ["lead@clinic.example"]
    assert f"{planned.due_at.astimezone(clinic.zone):%-d %B %Y}" in mail.body
    assert person.name not in mail.subject + mail.body
    signed_in(clinic_lead).post(reverse("clinic:keep", args=[person.pk]))
    assert erase_expired()[PLANNED] == 0  # The kept ones stay.
    monkeypatch.setattr("django.utils.timezone.now", lambda: planned.due_at + timedelta(days=1))
    assert erase_expired()["records erased"] == 0
    assert Client.objects.filter(pk=person.pk).exists()


def test_jobs_that_ended_long_ago_end_and_those_that_wait_do_not(clinic, person):
    with connection.cursor() as cursor:
        for status, days in (("failed", 40), ("failed", 20), ("todo", 40)):
            cursor.execute(
                "insert into procrastinate_jobs (queue_name, task_name, priority, args, status) "
                "values ('default', 'gone', 0, '{}', %s) returning id",
                [status],
            )
            job = cursor.fetchone()[0]
            cursor.execute("delete from procrastinate_events where job_id = %s", [job])
            cursor.execute(
                "insert into procrastinate_events (job_id, type, at) "
                "values (%s, 'started', now() - make_interval(days => %s))",
                [job, days],
            )
    assert list_expired()[JOBS] == 1
    assert [erase_expired()[JOBS] for _ in range(2)] == [1, 0]
    left = ProcrastinateJob.objects.filter(task_name="gone").values_list("status", flat=True)
    assert sorted(left) == ["failed", "todo"]


def test_only_the_lead_erases_records_and_changes_settings(clinic_lead, clinic, person):
    other = signed_in(ClinicianFactory(clinic=clinic))
    assert other.get(reverse("clinic:erase", args=[person.pk])).status_code == 404
    assert other.post(reverse("clinic:keep", args=[person.pk])).status_code == 404
    other.post("/clients/clinic/", {"name": "Another"})
    clinic.refresh_from_db()
    assert clinic.name != "Another"
