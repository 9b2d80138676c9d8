"""Hundreds of invalid entries: none causes an error, breaks a page, a file or a job, and a stop
still arrives after all of them."""

import json
import uuid

import pytest
from django.urls import reverse
from django.utils import timezone
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.web.conftest import send, sitting
from web.intake.entry import SCHEMAS
from web.intake.models import RefusedEntry
from web.practice.page_token import page_token
from web.record.models import SelfReport, Session, Trial
from web.scheduled import client_status, digests, reminders
from web.screening.models import Stop

#: Number of entries generated from the schemas; the handwritten ones below are additional.
ODD = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-(2**80), 2**80),
    st.floats(allow_nan=False),
    st.text(max_size=30),
    st.sampled_from(
        ["\x00", "\ud800", "a\nb\r\nBcc: x@y.example", "9999-12-31T23:59:59+00:00", "\u202e", "<b>"]
    ),
    st.lists(st.integers(), max_size=3),
    st.dictionaries(st.text(max_size=5), st.text(max_size=5), max_size=3),
)
TIMES = (
    "0001-01-01T00:00:00+00:00",
    "0001-01-01T00:00:00+14:00",
    "9999-12-31T23:59:59+00:00",
    "9999-12-31T23:59:59-14:00",
    "1970-01-01T00:00:00Z",
    "2026-13-45T99:00:00Z",
    "2026-11-26T10:00:00",
    "",
)


@st.composite
def entries(draw):
    """Generate an entry of some kind with some invalid fields."""
    kind = draw(st.sampled_from(sorted(SCHEMAS)))
    made = {
        "key": str(uuid.UUID(int=draw(st.integers(0, 2**128 - 1)))),
        "at": draw(st.sampled_from((*TIMES, "NOW"))),
        "kind": kind,
        "session": "SESSION",
        **{
            name: draw(ODD)
            for name in SCHEMAS[kind]["properties"]
            if name not in ("key", "at", "kind", "session") and draw(st.booleans())
        },
    }
    for name in draw(st.lists(st.sampled_from(sorted(made)), max_size=2)):
        made[name] = draw(ODD)
    return made


def adapted(said, person, session):
    """Return the same with this client's own session and the current time."""
    if said.get("session") == "SESSION":
        said["session"] = session
    if said.get("at") == "NOW":
        said["at"] = timezone.now().isoformat()
    return json.dumps(said)


@settings(
    database=None,
    suppress_health_check=list(HealthCheck),
)
@given(said=entries())
def test_every_entry_is_answered(said, as_client, person, prescribed, monkeypatch):
    monkeypatch.setattr("web.intake.views.entries.is_within_limit", lambda *given: True)
    response = send(as_client, adapted(dict(said), person, sitting(person)))
    assert response.status_code in (200, 422), response.content
    assert response.status_code == 200 or response.json()["sentence"]


def deep(levels):
    return '{"kind":' * levels + "1" + "}" * levels


BY_HAND = {
    "deep": deep(3000),
    "deep within reason": deep(200),
    "a number of many digits": '{"kind": "timed", "seconds": ' + "9" * 5000 + "}",
    "a rate beyond all": '{"kind": "timed", "seconds": 1e999}',
    "a list of lists": "[" * 500 + "]" * 500,
    "half a character alone": '"\\ud800"',
    "a key twice": '{"kind": "begun", "kind": "ended"}',
    "a text too long": json.dumps({"kind": "mark", "value": "x" * 25_000}),
    "nothing": " ",
    "null": "null",
}


@pytest.mark.parametrize("body", BY_HAND.values(), ids=BY_HAND)
def test_a_request_without_an_entry_is_answered(as_client, prescribed, body):
    assert send(as_client, body).status_code == 422


@pytest.mark.parametrize("at", TIMES[:5])
@pytest.mark.parametrize("kind", ["begun", "timed", "mark", "ended", "told"])
def test_a_time_beyond_all_calendars_is_set_right_and_what_was_said_is_kept(
    as_client, person, prescribed, at, kind
):
    more = {
        "timed": {"task": prescribed.tasks.first().pk, "seconds": 4.0},
        "told": {"task": prescribed.tasks.first().pk, "figures": {"reps": 3}},
        "mark": {"mark": "effort", "value": 3},
        "ended": {"ending": "done"},
    }.get(kind, {})
    said = {"key": str(uuid.uuid4()), "at": at, "kind": kind, **more}
    said["session"] = sitting(person, begun_at=at)
    assert send(as_client, json.dumps(said)).status_code == 200
    session = Session.objects.get()
    now = timezone.now()
    assert session.begun_at <= now
    assert session.device_time == at
    for row in (*Trial.objects.all(), *SelfReport.objects.all()):
        moment = row.performed_at if isinstance(row, Trial) else row.said_at
        assert prescribed.published_at <= moment <= now
        assert row.device_time == at


def test_half_a_character_in_a_comment_does_not_lose_the_comment(as_client, person, prescribed):
    said = {"key": str(uuid.uuid4()), "at": timezone.now().isoformat(), "kind": "mark",
            "session": sitting(person), "mark": "comment", "value": "It \ud83d hurt\x07."}  # fmt: skip
    assert send(as_client, json.dumps(said)).status_code == 200
    assert SelfReport.objects.get().value == "It \N{REPLACEMENT CHARACTER} hurt."


def test_another_clients_key_is_refused_and_a_stop_under_it_is_kept(
    as_client, person, prescribed, clinician
):
    from tests.factories import ClientFactory, prescribe

    other = ClientFactory(clinic=person.clinic)
    prescribe(other, by=clinician)
    key = str(uuid.uuid4())
    Stop.objects.create(
        key=key, client=other, flags=["strain"], tier="end_session", pauses=False,
        said_at=timezone.now(),
    )  # fmt: skip
    assert stop(as_client, person, key=key).status_code == 200
    assert person.stops.count() == 1
    assert stop(as_client, person, key=key).status_code == 200
    assert person.stops.count() == 1


def stop(browser, person, **more):
    page = more.pop("page", None) or page_token(person, by=person.account)
    said = {"page": page, "key": str(uuid.uuid4()),
            "flags": ["breathing"], "at": timezone.now().isoformat(), **more}  # fmt: skip
    url = reverse("intake:stop")
    return browser.post(url, json.dumps(said), content_type="application/json")


STOPS = {
    "a time that is none": {"at": "soon"},
    "no time": {"at": None},
    "a time beyond all": {"at": "9999-12-31T23:59:59+00:00"},
    "a comment torn apart": {"comment": "\ud800\x00" * 40},
    "a comment that is a list": {"comment": [1, {"a": 2}]},
    "a key that is none": {"key": "not a key"},
    "a key that is a list": {"key": [1]},
    "a session that is none": {"session": {"deep": []}},
    "flags of another version": {"flags": ["breathing", "of_tomorrow", 7, None]},
    "what nobody asked for": {"more": {"and": "more"}},
}


@pytest.mark.parametrize("more", STOPS.values(), ids=STOPS)
def test_a_stop_is_taken_whatever_else_it_says(as_client, person, prescribed, more):
    assert stop(as_client, person, **more).status_code == 200
    kept = Stop.objects.get()
    assert kept.flags == ["breathing"]
    assert kept.said_at <= timezone.now()


@pytest.mark.parametrize(
    ("body", "status"),
    [(b"", 403), (b"[]", 403), (b"\xff", 403), (b'{"page": "forged"}', 403), (b"x" * 90_000, 403)],
)
def test_an_invalid_stop_is_refused_with_a_reason(client, db, body, status):
    response = client.post(reverse("intake:stop"), body, content_type="application/json")
    assert response.status_code == status


def test_after_all_of_it_every_page_file_and_job_works_and_a_stop_arrives(
    as_client, as_clinician, person, prescribed
):
    task = prescribed.tasks.first().pk
    for at in TIMES:
        for more in (
            {"kind": "begun"},
            {"kind": "timed", "task": task, "seconds": 4.0},
            {"kind": "mark", "mark": "comment", "value": "\ud800\x00=cmd()|'x'"},
            {"kind": "stop", "flags": ["strain"], "comment": "\ud800\r\nBcc: x"},
            {"kind": "ended", "ending": "done"},
        ):
            said = {"key": str(uuid.uuid4()), "at": at, "session": sitting(person, begun_at=at)}
            assert send(as_client, json.dumps({**said, **more})).status_code < 500
    one = {"args": [person.pk]}
    for name, more in {
        "decisions:board": {}, "results:client": one, "exports:client": one, "exports:tries_csv": one,
        "exports:sessions_csv": one, "exports:practice_json": one, "exports:fhir_json": one,
        "exports:without_names": {}, "screening:screen": one, "intake:paper": one, "notes:notes": one,
    }.items():  # fmt: skip
        assert as_clinician.get(reverse(name, **more)).status_code == 200, name
    for job in (client_status.keep_statuses, reminders.remind, digests.digests):
        job()
    assert RefusedEntry.objects.filter(client=person).exists()
    assert stop(as_client, person).status_code == 200
    assert Stop.objects.filter(flags=["breathing"]).count() == 1
