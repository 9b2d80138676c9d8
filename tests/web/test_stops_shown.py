"""Stops are shown on the board and on the results page until a clinician has resolved them, and
appear in letters and notes."""

import html
import uuid
from datetime import timedelta

import pytest
from django.urls import reverse
from django.utils import timezone

from tests.factories import ClinicianFactory
from tests.pages import read
from tests.web.conftest import entry, plan_shown, send, sitting
from tests.web.signing_in import signed_in
from web.clients.models import Client
from web.notes.actions import begin_note
from web.record.models import Decision
from web.screening.actions import clear_stop, record_stop, take_back
from web.screening.models import Screen, Stop


def report(person, *flags, comment="", ago=timedelta()):
    return record_stop(
        person, key=uuid.uuid4(), flags=list(flags), said_at=timezone.now() - ago, clinicians=[], comment=comment,
    )  # fmt: skip


def on_board(browser, person):
    """Return the client's group on the board, and the text of the line."""
    groups = browser.get(reverse("decisions:board")).context["groups"]
    (found,) = [
        (group.code, html.unescape(line.html))
        for group in groups
        for line in group.lines
        if line.client == person.pk
    ]
    return found


def results(browser, person):
    return html.unescape(read(browser.get(reverse("results:client", args=[person.pk]))))


@pytest.mark.parametrize(
    ("flag", "words"), [("light_headed", "light-headedness"), ("strain", "strain")]
)
def test_a_stop_that_only_ended_a_session_is_shown_until_it_is_dealt_with(
    as_clinician, person, prescribed, flag, words
):
    stop = report(person, flag, comment="on the second hold")
    assert not stop.pauses
    code, line = on_board(as_clinician, person)
    assert code == "stop"
    assert words in line
    page = results(as_clinician, person)
    assert words in page
    assert "on the second hold" in page
    clear = reverse("screening:clear_stop", args=[person.pk, stop.pk])
    back = reverse("results:client", args=[person.pk])
    answer = as_clinician.post(clear, {"because": "Rested, and fine since.", "next": back})
    assert answer.url == back
    code, line = on_board(as_clinician, person)
    assert code != "stop"
    assert words not in line
    assert "Resolve stop" not in results(as_clinician, person)


def test_a_withdrawn_stop_is_shown_as_withdrawn_until_it_is_dealt_with(
    as_clinician, person, prescribed, clinician
):
    stop = report(person, "new_pain")
    assert take_back(person, stop.pk)
    code, line = on_board(as_clinician, person)
    assert code == "stop"
    assert "withdrawn by the client" in line
    assert ": the client reported pressing it by mistake." in results(as_clinician, person)
    stop.refresh_from_db()
    over = stop.cleared_at
    assert clear_stop(stop, by=clinician, because="Asked: it was a slip.")
    stop.refresh_from_db()
    assert stop.cleared_at == over  # The pause is no longer than it was.
    assert "Asked: it was a slip." in stop.cleared_because
    assert on_board(as_clinician, person)[0] != "stop"


def test_a_stop_counts_as_read_only_by_a_clinician_who_saw_it_on_the_page(
    as_clinician, person, prescribed, clinic
):
    stop = report(person, "strain")
    for role in ("viewer", "assistant"):
        page = results(signed_in(ClinicianFactory(clinic=clinic, role=role)), person)
        assert "strain" in page
        assert "Resolve stop" not in page
    stop.refresh_from_db()
    assert stop.read_at is None
    as_clinician.get(reverse("record:summary", args=[person.pk]))
    stop.refresh_from_db()
    assert stop.read_at is None
    results(as_clinician, person)
    stop.refresh_from_db()
    assert stop.read_at is not None


def test_a_red_flag_is_not_left_for_later(as_clinician, person, prescribed):
    report(person, "breathing")
    _, line = on_board(as_clinician, person)
    assert "not yet" not in line
    task = prescribed.tasks.first().pk
    for sent in ({"task": "", "step": "stop_and_refer"}, {"task": task, "step": "stop_and_refer"}):
        said = {**sent, "refusal_reason": "too_soon"}
        as_clinician.post(reverse("decisions:decide", args=[person.pk]), said)
    assert not Decision.objects.exists()
    assert on_board(as_clinician, person)[0] == "stop"


def test_the_letter_names_each_open_stop_and_the_screening_beside_them(
    as_clinician, person, prescribed
):
    report(person, "new_pain", comment="left side, when I swallow", ago=timedelta(days=2))
    report(person, "strain")
    letter = html.unescape(read(as_clinician.get(reverse("notes:letter", args=[person.pk]))))
    assert "new pain on voicing or swallowing" in letter
    assert "left side, when I swallow" in letter
    assert f"{timezone.now() - timedelta(days=2):%-d %B %Y}" in letter
    assert "strain" in letter
    assert "no red flag was reported" in letter  # From the screening, and labelled so.
    assert letter.index("new pain") < letter.index("no red flag")
    assert "No red flags reported." not in letter
    Screen.objects.filter(client=person).update(flags=["neck_lump"])
    letter = read(as_clinician.get(reverse("notes:letter", args=[person.pk])))
    assert "a lump in the neck" in letter
    assert "no red flag" not in letter


def test_exercise_is_held_back_in_the_letter_only_where_it_is(as_clinician, person, prescribed):
    letter = reverse("notes:letter", args=[person.pk])
    assert "paused until we hear" not in as_clinician.get(letter).content.decode()
    report(person, "breathing")
    assert "paused until we hear" in as_clinician.get(letter).content.decode()


def test_a_note_names_the_stops_of_its_time_and_those_still_open(person, prescribed, clinician):
    report(person, "strain", comment="hoarse since Monday", ago=timedelta(days=20))
    today = timezone.localdate()
    note = begin_note(
        person, kind="progress", by=clinician, first=today - timedelta(days=7), last=today
    )
    words = " ".join(note.words.values())
    assert "strain" in words
    assert "hoarse since Monday" in words
    assert "Unresolved." in words


def test_voice_rest_pauses_the_device_and_the_board_from_when_it_is_recorded(
    as_clinician, as_client, person, prescribed
):
    assert plan_shown(as_client)["rest_until"] is None
    last = timezone.localdate() + timedelta(days=5)
    Client.objects.filter(pk=person.pk).update(voice_rest_until=last)
    assert plan_shown(as_client)["rest_until"] == last.isoformat()
    assert f"Voice rest until {last:%-d %b}" in on_board(as_clinician, person)[1]
    Client.objects.filter(pk=person.pk).update(voice_rest_until=last - timedelta(days=9))
    assert "Voice rest" not in on_board(as_clinician, person)[1]


def test_the_clients_words_after_a_stop_appear_beside_it(
    as_client, as_clinician, person, prescribed
):
    session = sitting(person)
    stop = record_stop(
        person, key=uuid.uuid4(), flags=["light_headed"], said_at=timezone.now(), clinicians=[],
        session_key=uuid.UUID(session["key"]),
    )  # fmt: skip
    words = entry(
        person, "mark", session=session, mark="comment", value="dizzy after the second straw"
    )
    for _ in range(2):  # Sent twice, it is added once.
        assert send(as_client, words).status_code == 200
    stop.refresh_from_db()
    assert stop.comment == "dizzy after the second straw"
    assert "dizzy after the second straw" in results(as_clinician, person)
    letter = as_clinician.get(reverse("notes:letter", args=[person.pk])).content.decode()
    assert "dizzy after the second straw" in letter
    # A comment of another day belongs to another event.
    other = entry(person, "mark", mark="comment", value="a good day")
    Stop.objects.update(said_at=timezone.now() - timedelta(hours=3))
    assert send(as_client, other).status_code == 200
    stop.refresh_from_db()
    assert "a good day" not in stop.comment
