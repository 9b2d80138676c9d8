"""Notes: drafted from the figures, edited, signed, and amended."""

import io
import uuid
from datetime import timedelta

import pytest
from django.db import DatabaseError, transaction
from django.urls import reverse
from django.utils import timezone
from pypdf import PdfReader

from tests.factories import ClientFactory, trial
from tests.web.test_deciding import practise, report, sat
from web.notes.models import ClinicalNote


@pytest.fixture
def eventful_fortnight(prescribed):
    """A fortnight of practice with many reports in the newest session."""
    practise(prescribed, days=range(15, 1, -1))
    session = sat(prescribed, 1, "yyn?", held_s=8.4, effort=4)
    session.voice = "tired"
    session.save()
    task = prescribed.tasks.get()
    report(session, "strain", {"said": True, "where": "jaw"}, task=task)
    report(session, "skipped", "no_prop", task=task)
    report(session, "comment", "The straw <b>broke</b>.")
    report(session, "bother", 6)
    return session


def draft(as_clinician, person, kind, **said):
    url = reverse("notes:new_note", args=[person.pk])
    response = as_clinician.post(url, {"kind": kind, **said})
    assert response.status_code == 302, response.content.decode()
    return ClinicalNote.objects.latest("pk")


def url_of(note, name="note"):
    return reverse(f"notes:{name}", args=[note.client_id, note.pk])


def sign(as_clinician, note, **said):
    said = {"read": "yes", "edition": note.edition, **said}
    return as_clinician.post(url_of(note, "sign_note"), said, follow=True).content.decode()


def test_a_session_note_is_drafted_from_what_was_said_and_measured(
    as_clinician, person, eventful_fortnight
):
    note = draft(as_clinician, person, "session", session=eventful_fortnight.pk)
    assert note.words["said"].split("\n") == [
        "Voice today: tired or dry.",
        "Effort 4 of 10.",
        "Strain reported 1 of 1 times (jaw).",
        "Straw in air, one note on F3: skipped, “I haven’t got what it needs”.",
        "Bother from the voice: 6 of 10.",
        "“The straw <b>broke</b>.”",
    ]
    assert note.words["measured"] == (
        "Straw in air, one note on F3: 4 trials, median 8.6 s, best 8.7 s, 2 of 3 on target."
    )
    assert "Programme 1 continues: 1× a day, 7 days a week." in note.words["next"]
    page = as_clinician.get(url_of(note)).content.decode()
    assert "&lt;b&gt;broke&lt;/b&gt;" in page
    assert "<b>broke" not in page


def test_a_session_note_needs_its_session(as_clinician, person, eventful_fortnight):
    other = ClientFactory(clinic=person.clinic)
    for session in ("", uuid.uuid4()):
        response = as_clinician.post(
            reverse("notes:new_note", args=[person.pk]), {"kind": "session", "session": session}
        )
        assert response.status_code == 400
        assert "Choose a session for the note." in response.content.decode()
    response = as_clinician.post(
        reverse("notes:new_note", args=[other.pk]),
        {"kind": "session", "session": eventful_fortnight.pk},
    )
    assert response.status_code == 400


def test_days_in_the_wrong_order_are_reported(as_clinician, person, eventful_fortnight):
    said = {"kind": "progress", "first": "2026-11-20", "last": "2026-11-01"}
    response = as_clinician.post(reverse("notes:new_note", args=[person.pk]), said)
    assert "The first day is after the last day" in response.content.decode()
    said = {"kind": "progress", "first": "0001-01-01", "last": "9999-12-31"}
    assert as_clinician.post(reverse("notes:new_note", args=[person.pk]), said).status_code == 400
    said = {"kind": "progress", "first": "yesterday"}
    response = as_clinician.post(reverse("notes:new_note", args=[person.pk]), said)
    assert "Enter the first day like 2026-11-25." in response.content.decode()


def test_a_progress_report_counts_what_was_due_and_says_what_is_chance(
    as_clinician, person, eventful_fortnight
):
    first = (timezone.localdate() - timedelta(days=15)).isoformat()
    note = draft(as_clinician, person, "progress", first=first)
    assert "15 sessions." in note.words["course"]
    assert "15 sessions were due; adherence 100%." in note.words["course"]
    assert ": too early to assess change. The 7-day mean is" in note.words["meaning"]
    figures = as_clinician.get(url_of(note)).context["figures"]
    (table,) = figures["tables"]
    assert "<svg" in table["chart"]
    # Every figure can be traced to its tries.
    (tries,) = figures["tries"]
    ids = [key for session in tries["sessions"] for key, _ in session["tries"]]
    assert len(ids) == 60
    assert str(eventful_fortnight.trials.first().key)[:8] in ids


def test_a_summary_for_a_specialist_goes_by_the_clock_and_the_medication(
    as_clinician,
    person,
    prescribed,
):
    for days_ago, hours in ((3, 1.0), (2, 3.0)):
        session = sat(prescribed, days_ago, "y", held_s=6.0 + hours)
        session.hours_since_medication = hours
        session.save()
    words = draft(as_clinician, person, "specialist").words["measured"]
    assert "up to 2 h after medication 7.0 s (1); 2 to 4 h after it 9.0 s (1)" in words
    assert "median (trials): in the" in words


def test_a_discharge_report_holds_the_goal_against_what_was_held(
    as_clinician, person, eventful_fortnight
):
    person.goals = "To call the ferry."
    person.save()
    note = draft(as_clinician, person, "discharge")
    assert "“To call the ferry.”" in note.words["goals"]
    assert "in the first three sessions" in note.words["measured"]


def test_a_notes_text_is_kept_and_two_editors_do_not_overwrite_each_other(
    as_clinician, person, eventful_fortnight
):
    note = draft(as_clinician, person, "session", session=eventful_fortnight.pk)
    said = {"said": "One", "measured": "Two", "meaning": "Three", "next": "Four", "edition": 1}
    as_clinician.post(url_of(note), said)
    note.refresh_from_db()
    assert (note.words["said"], note.edition) == ("One", 2)
    late = as_clinician.post(url_of(note), {**said, "said": "Mine"})
    assert late.status_code == 409
    page = late.content.decode()
    assert ">Mine</textarea>" in page  # Nothing of it is lost.
    assert "Their version: One" in page
    note.refresh_from_db()
    assert note.words["said"] == "One"


def test_signed_it_stays_with_the_figures_of_that_moment(
    as_clinician, person, eventful_fortnight, clinician
):
    note = draft(as_clinician, person, "session", session=eventful_fortnight.pk)
    assert "Confirm that you have read the note. A signed note cannot be changed." in sign(
        as_clinician, note, read=""
    )
    assert (
        "Another person saved this note while you were editing. Nothing of yours was lost: your version is in the fields, theirs is below each. Compare them and save again."
        in sign(as_clinician, note, edition=7)
    )
    assert "Note signed. You can add an addendum." in sign(as_clinician, note)
    note.refresh_from_db()
    before = note.figures
    trial(
        eventful_fortnight.trials.first().task,
        session=eventful_fortnight,
        total_s=30.0,
        performed_at=eventful_fortnight.begun_at,
    )
    assert as_clinician.get(url_of(note)).context["figures"] == before
    as_clinician.post(url_of(note), {"said": "Otherwise", "edition": note.edition})
    as_clinician.post(url_of(note, "discard_note"))
    note.refresh_from_db()
    assert "tired or dry" in note.words["said"]
    assert note.signed_by == clinician


def test_the_database_itself_refuses_to_change_what_is_signed(
    as_clinician, person, eventful_fortnight
):
    note = draft(as_clinician, person, "session", session=eventful_fortnight.pk)
    assert "Note signed." in sign(as_clinician, note)
    for change in (
        lambda: ClinicalNote.objects.filter(pk=note.pk).update(words={}),
        lambda: ClinicalNote.objects.filter(pk=note.pk).delete(),
    ):
        with pytest.raises(DatabaseError, match="signed and stays"), transaction.atomic():
            change()


def test_a_signed_note_can_be_added_to_and_a_draft_not(as_clinician, person, eventful_fortnight):
    note = draft(as_clinician, person, "session", session=eventful_fortnight.pk)
    url = url_of(note, "add_to_note")
    assert "still a draft" in as_clinician.post(url, {"words": "x"}, follow=True).content.decode()
    sign(as_clinician, note)
    assert (
        "Enter the text of the addendum."
        in as_clinician.post(url, {"words": " "}, follow=True).content.decode()
    )
    page = as_clinician.post(url, {"words": "The straw was\nreplaced."}, follow=True)
    assert "replaced." in page.content.decode()
    assert note.addenda.count() == 1


def test_nothing_is_cut_off_in_silence(as_clinician, person, eventful_fortnight):
    note = draft(as_clinician, person, "session", session=eventful_fortnight.pk)
    long = "x" * 20_001
    response = as_clinician.post(url_of(note), {"said": long, "edition": 1})
    assert response.status_code == 400
    assert f">{long}</textarea>" in response.content.decode()
    note.refresh_from_db()
    assert note.edition == 1
    sign(as_clinician, note)
    response = as_clinician.post(url_of(note, "add_to_note"), {"words": long})
    assert f">{long}</textarea>" in response.content.decode()
    assert not note.addenda.exists()


def test_a_draft_can_be_thrown_away(as_clinician, person, eventful_fortnight):
    note = draft(as_clinician, person, "session", session=eventful_fortnight.pk)
    page = as_clinician.post(url_of(note, "discard_note"), follow=True).content.decode()
    assert "Draft deleted." in page
    assert not ClinicalNote.objects.exists()


def test_the_pdf_says_what_the_page_says(as_clinician, person, eventful_fortnight):
    note = draft(as_clinician, person, "progress")
    response = as_clinician.get(url_of(note, "note_pdf"))
    assert response["Content-Type"] == "application/pdf"
    text = "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(response.content)).pages)
    assert "Progress report" in text
    assert "Draft, not signed" in text
    assert "Straw in air, one note on F3" in text
    assert str(eventful_fortnight.trials.first().key)[:8] in text


def test_a_note_without_practice_invents_nothing(as_clinician, person):
    note = draft(as_clinician, person, "progress")
    assert note.words["measured"] == "No measurements."
    assert note.words["meaning"] == "Too few measurements to assess change."
    assert note.words["next"] == "No programme."
    assert "0 sessions" in note.words["course"]
