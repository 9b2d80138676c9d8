"""Every URL of the site for every role: who has access, and who gets a 404."""

import uuid
from copy import copy
from io import BytesIO

import pytest
from allauth.mfa.models import Authenticator
from allauth.mfa.recovery_codes.internal.auth import RecoveryCodes
from allauth.mfa.totp.internal.auth import TOTP
from channels.testing import WebsocketCommunicator
from django.db import transaction
from django.test import Client as Browser
from django.urls import URLResolver, get_resolver, reverse
from django.utils import timezone
from PIL import Image

from tests.factories import (
    ClientFactory,
    ClinicianFactory,
    baseline_trial,
    prescribe,
    simple_document,
)
from tests.web.access_table import (
    ACCESS,
    AWAY,
    DOOR,
    IN,
    LOOKED_AT,
    MEASURED,
    NOT_THERE,
    SHUT,
)
from tests.web.conftest import entry, run, send, sitting
from tests.web.signing_in import signed_in
from web.accounts.actions import password_path
from web.accounts.models import Clinic, Cover, User
from web.baseline.models import ReferenceFigure
from web.baseline.urls import websocket_urlpatterns as sheet_lines
from web.catalogue.actions import add_picture, keep
from web.clients.actions import add_helper
from web.clients.models import Erasure
from web.config.asgi import application
from web.intake.urls import websocket_urlpatterns
from web.messages.unsubscribing import off_link
from web.notes.models import ClinicalNote
from web.practice.models import Tablet
from web.programmes.actions import publish_document
from web.record.models import Decision, ProgrammeVersion, Trial
from web.screening.models import Stop
from web.sound.consumers import NOT_YOURS

PATTERN = "start=C3&step_st=1&rounds_down=0&rounds_up=1&beat_s=0.3&breath=one_breath&transpose=0"
ASSISTING = ("an assistant", "a viewer", "an auditor")
ACTORS = ("nobody", "the client", "another client", "a clinician elsewhere", "the clinician")


def named_urls(resolver=None, space=""):
    for each in (resolver or get_resolver()).url_patterns:
        if isinstance(each, URLResolver):
            yield from named_urls(each, f"{each.namespace}:" if each.namespace else space)
        else:
            yield f"{space}{each.name}"


SHEETS = ("sheet", "close", "calibrate", "spirometer")
VERSIONED = (
    "version",
    "withdraw",
    "again",
    "handout",
    "handout_pdf",
    "calendar",
    "tones_midi",
    "sound_wav",
    "as_json",
)
LOGS = ("paper", "table", "recordings")
STEPS = ("typed", "entries", "recording", "simulated")


NOTES = ("note", "note_pdf", "sign_note", "discard_note", "add_to_note")
OF_THE_CLINIC = (
    "decisions:board", "decisions:overview", "decisions:undo_last", "exports:without_names",
    "exports:without_names_columns", "exports:practice_schema", "clinic:opened",
    "clinic:erased",
)  # fmt: skip


def arguments(name, person, task):
    space, _, short = name.rpartition(":")
    if name.startswith("mfa_"):
        for user in User.objects.filter(role__in=User.AT_WORK):
            TOTP.activate(user, "JBSWY3DPEHPK3PXP")
            RecoveryCodes.activate(user)
    if name == "mfa_remove_webauthn":
        return [a_passkey(task.programme.published_by).pk]
    if space == "baseline" and short in ("trial", *SHEETS, *STEPS):
        trial = baseline_trial(person, by=task.programme.published_by)
        if short == "trial":
            return [trial.pk, "discard"]
        return [trial.baseline_id, "vowel"] if short in STEPS else [trial.baseline_id]
    if short in VERSIONED:
        by = task.programme.published_by
        made = ProgrammeVersion.objects.filter(
            client=person, version=2
        ).first() or publish_document(person, simple_document(), by=by)
        return [person.pk, made.version, *([1] if short == "sound_wav" else [])]
    if name == "catalogue:hide":
        return ["straw_hold"]
    by = task.programme.published_by
    if name == "accounts:choose_password":
        return password_path(by).strip("/").split("/")[1:]
    if name == "clinic:end_cover":
        other = ClinicianFactory(clinic=person.clinic)
        day = timezone.localdate()
        return [
            Cover.objects.create(
                absent=by, substitute=other, first_day=day, last_day=day, made_by=by
            ).pk
        ]
    if name in (
        "clinic:new_link",
        "clinic:deactivate",
        "clinic:reactivate",
        "clinic:role",
        "clinic:reset_second_step",
    ):
        return [ClinicianFactory(clinic=person.clinic).pk]
    if name == "messages:device":
        return []
    if name in ("results:count_trial", "results:leave_out_trial"):
        return [person.pk, a_trial(task).pk]
    if name == "catalogue:put_away":
        kept = {"kind": "lines", "name": "Market", "data": ["Two, please."], "shared": True}
        return [keep(person.clinic, by=by, **kept).pk]
    if name == "record:picture":
        return [add_picture(person.clinic, name="Map", alt="A map", data=a_picture(), by=by).pk]
    if short == "remove_reference":
        return [ReferenceFigure.objects.create(clinic=person.clinic, measure="span_st", low=1).pk]
    if name == "practice:enter":
        return [person.practice_code]
    if name == "practice:simulated_voice":
        return [task.pk]
    if name == "clients:helper":
        return [person.pk, person.helpers.first().pk]
    if name == "practice:tablet_enter":
        return [person.pk]
    if name == "practice:change_tablet":
        return [Tablet.objects.create(clinic=person.clinic, name="Group room", made_by=by).pk]
    if space in ("practice", "intake") and short not in (
        "in_clinic",
        "clinic_entries",
        "clinic_opened_entry",
        *LOGS,
    ):
        return []
    if name == "clinic:keep":
        Erasure.objects.get_or_create(
            clinic=person.clinic,
            record=person.pk,
            defaults={"asked_by": by, "due_at": timezone.now()},
        )
        return [person.pk]
    if short == "undo":
        return [person.pk, a_decision(task).pk]
    if name == "messages:reminders_off":
        return [off_link(person).split("/")[-2]]
    if short in NOTES:
        return [person.pk, a_note(person, by=task.programme.published_by).pk]
    if name in OF_THE_CLINIC:
        return []
    if short == "clear_stop":
        return [person.pk, a_stop(person).pk]
    if space in ("", "accounts", "calculators", "catalogue", "watched") or short == "schema":
        return []
    if short in ("list", "new", "clinic", "add_reference", "people", "invite", "cover"):
        return []
    return [person.pk]


def a_trial(task):
    return Trial.objects.create(
        key=uuid.uuid4(), client=task.programme.client, task=task, performed_at=timezone.now(),
        source="stopwatch", outcome="not_judged", total_s=9.0,
    )  # fmt: skip


def a_passkey(user):
    return Authenticator.objects.create(
        user=user, type="webauthn", data={"name": "Trust this device"}
    )


def a_picture():
    written = BytesIO()
    Image.new("RGB", (40, 30), "white").save(written, "PNG")
    return written.getvalue()


def a_stop(person):
    return Stop.objects.create(
        key=uuid.uuid4(), client=person, flags=["strain"], tier="end_session", pauses=False,
        said_at=timezone.now(),
    )  # fmt: skip


def a_note(person, *, by):
    today = timezone.localdate()
    return ClinicalNote.objects.create(
        client=person, kind="progress", first=today, last=today, made_by=by
    )


def a_decision(task):
    return Decision.objects.create(
        client=task.programme.client, task=task, step="check_in", reason="days_missed",
        accepted=True, decided_at=timezone.now(), decided_by=task.programme.published_by,
    )  # fmt: skip


@pytest.fixture
def users(person, clinic, clinician):
    return {
        "nobody": None,
        "the client": person.account,
        "another client": ClientFactory(clinic=clinic).account,
        "a clinician elsewhere": ClinicianFactory(),
        "the clinician": clinician,
        "an assistant": ClinicianFactory(clinic=clinic, role="assistant"),
        "a viewer": ClinicianFactory(clinic=clinic, role="viewer"),
        "an auditor": ClinicianFactory(clinic=clinic, role="auditor"),
        "a helper": add_helper(person, name="Ana", relation="daughter").account,
    }


def test_every_url_has_a_row_in_the_table():
    assert set(named_urls()) == set(ACCESS)


#: One set of people serves many URLs; a request's changes are rolled back before the next URL.
PARTS = 8


@pytest.mark.parametrize("part", range(PARTS))
def test_access_to_every_address_by_role(part, users, person, task):
    cookies = {actor: signed_in(user).cookies for actor, user in users.items()}
    wrong = {}
    for name in list(ACCESS)[part::PARTS]:
        with transaction.atomic():
            method, expected = ACCESS[name]
            url = address(name, person, task)
            found = {actor: what_is_found(cookies[actor], method, url) for actor in users}
            if found != wanted(name, expected, found):
                wrong[name] = found
            transaction.set_rollback(True)
    assert not wrong


def address(name, person, task):
    """Return an address of this URL with existing data."""
    url = reverse(name, args=arguments(name, person, task))
    if name in ("practice:simulated_voice", "practice:comfortable_voice"):
        return url + "?manner=even&seed=1"
    return url + (f"?{PATTERN}" if name.startswith("calculators:pattern") else "")


def wanted(name, expected, found):
    """Return what each actor should find.

    A helper finds what the client finds. Assistants, viewers and auditors get in where the table lists
    the page for them; how they are kept out elsewhere is not fixed, so that is taken from ``found``.
    """
    due = dict(zip(ACTORS, expected, strict=True)) | {"a helper": expected[1]}
    open_to_all = expected[0] == IN or set(expected) == {DOOR}
    for actor in ASSISTING:
        gets_in = name in LOOKED_AT or (actor == "an assistant" and name in MEASURED)
        is_in = found[actor] in (IN, DOOR)
        due[actor] = found[actor] if open_to_all or is_in == gets_in else f"in: {gets_in}"
    return due


def what_is_found(cookies, method, url):
    browser = Browser()
    browser.cookies = copy(cookies)
    body = {"key": str(uuid.uuid4()), "seconds": "3"} if method == "post" else {}
    response = getattr(browser, method)(url, body)
    assert response.status_code < 500
    if response.status_code == 404:
        return NOT_THERE
    if response.status_code == 302 and response.url.startswith("/sign-in/?next="):
        return AWAY
    if response.status_code == 302 and response.url == "/practice/code/":
        return DOOR
    return SHUT if response.status_code == 401 else IN


def test_a_viewer_looks_and_nothing_is_changed_by_that(users, person, task):
    stop = a_stop(person)
    for actor in ASSISTING:
        assert signed_in(users[actor]).get(f"/clients/{person.pk}/").status_code == 200
        for path in ("baselines/", "notes/"):
            assert signed_in(users[actor]).get(f"/clients/{person.pk}/{path}").status_code == 200
    stop.refresh_from_db()
    assert stop.read_at is None  # A clinician has not read it.
    assert signed_in(users["a viewer"]).post(f"/clients/{person.pk}/baselines/").status_code == 404
    assert (
        signed_in(users["an assistant"]).post(f"/clients/{person.pk}/baselines/").status_code == 302
    )


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("what", ["a task", "the reference", "the sheet"])
def test_access_to_streaming_by_role(users, person, task, what):
    assert (len(websocket_urlpatterns), len(sheet_lines)) == (2, 1)
    sheet = baseline_trial(person, by=task.programme.published_by).baseline
    path, allowed = {
        "a task": (
            f"/practice/tasks/{task.pk}/take/",
            {"the client", "a helper", "the clinician", "an assistant"},
        ),
        "the reference": (
            "/practice/reference/take/",
            {"the client", "a helper", "another client"},
        ),
        "the sheet": (
            f"/clients/baselines/{sheet.pk}/vowel/take/",
            {"the clinician", "an assistant"},
        ),
    }[what]

    everybody = (*ACTORS, *ASSISTING, "a helper")
    found = {actor: close_code(path, users[actor], stays=actor in allowed) for actor in everybody}
    assert found == {actor: None if actor in allowed else NOT_YOURS for actor in everybody}


@pytest.mark.django_db(transaction=True)
def test_streaming_requires_the_second_step_where_the_clinic_does(users, person, task):
    """A socket does not go through the middleware of pages."""
    Clinic.objects.filter(pk=person.clinic_id).update(second_step_required=True)
    TOTP.activate(users["an assistant"], "JBSWY3DPEHPK3PXP")
    path = f"/practice/tasks/{task.pk}/take/"
    assert close_code(path, users["the clinician"], stays=False) == NOT_YOURS
    for actor in ("an assistant", "the client"):
        assert close_code(path, users[actor], stays=True) is None


def close_code(path, user, *, stays):
    """Return the code with which this user's socket is closed; None if it stays open."""
    headers = [(b"origin", b"http://testserver"), (b"host", b"testserver")]
    if user:
        headers.append(
            (b"cookie", f"sessionid={signed_in(user).cookies['sessionid'].value}".encode())
        )

    async def story():
        line = WebsocketCommunicator(application, path, headers)
        await line.connect(timeout=60)
        # An open connection says nothing; a closed one says so, however long it takes.
        nothing = stays and await line.receive_nothing(timeout=0.2)
        code = None if nothing else (await line.receive_output(timeout=60))["code"]
        await line.disconnect(timeout=60)
        return code

    return run(story)


def test_a_page_elsewhere_cannot_stream_in_a_clients_name(person, task, db):
    async def connected():
        headers = [(b"origin", b"https://elsewhere.example"), (b"host", b"testserver")]
        line = WebsocketCommunicator(application, f"/practice/tasks/{task.pk}/take/", headers)
        accepted, _ = await line.connect(timeout=60)
        return accepted

    assert not run(connected)


def test_an_archived_client_cannot_practise(person, task, as_client):
    person.archived_at = timezone.now()
    person.save()
    assert as_client.get(reverse("practice:today")).status_code == 404
    assert Browser().get(reverse("practice:enter", args=[person.practice_code])).status_code == 404


def test_the_list_shows_only_the_clinicians_own_clinic(as_clinician, person):
    stranger = ClientFactory(name="Somebody Elsewhere")
    page = as_clinician.get(reverse("clients:list")).content.decode()
    assert person.name in page
    assert stranger.name not in page


def test_one_client_cannot_send_a_trial_under_anothers_key(
    as_client, person, task, clinic, clinician
):
    other = ClientFactory(clinic=clinic)
    other_task = prescribe(other, by=clinician)
    said = entry(other, "timed", task=other_task.pk, seconds=4.0)
    assert send(signed_in(other.account), said).status_code == 200
    stolen = {**said, "session": sitting(person), "task": task.pk}
    assert send(as_client, stolen).status_code == 422
    assert task.trials.count() == 0
    assert other_task.trials.count() == 1


def test_a_client_cannot_write_into_anothers_session_or_task(
    as_client, person, task, clinic, clinician
):
    other = ClientFactory(clinic=clinic)
    other_task = prescribe(other, by=clinician)
    theirs = sitting(other)
    assert send(signed_in(other.account), entry(other, "begun", theirs)).status_code == 200
    for said in (
        entry(person, "timed", theirs, task=task.pk, seconds=4.0),
        entry(person, "timed", task=other_task.pk, seconds=4.0),
    ):
        assert send(as_client, said).status_code == 422
    assert Trial.objects.count() == 0
