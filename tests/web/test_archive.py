"""A client's complete archive: the contents of every screen, and each change of the record."""

import csv
import io
import json
import uuid
import zipfile
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from django.db import models
from django.urls import reverse
from django.utils import timezone
from pypdf import PdfReader

from reedcore.formats.trace import PitchTrace as SlotAdherence
from reedcore.formats.trace import pack_trace
from reedcore.history import file
from tests.factories import baseline_trial, trial
from tests.web.test_deciding import report, sat
from web.baseline.models import Target
from web.clients.models import Client
from web.notes.actions import sign_note
from web.notes.models import Addendum, ClinicalNote
from web.record.models import Decision, Trace
from web.screening.models import Screen, Stop


def open_archive(as_clinician, person):
    answer = as_clinician.get(reverse("exports:archive", args=[person.pk]))
    assert answer.status_code == 200
    return zipfile.ZipFile(io.BytesIO(b"".join(answer.streaming_content)))


def everything_in(made):
    """Return all text, including printed pages."""
    texts = []
    for name in made.namelist():
        data = made.read(name)
        if name.endswith(".pdf"):
            pages = PdfReader(io.BytesIO(data)).pages
            texts.append(" ".join(" ".join(page.extract_text() for page in pages).split()))
        else:
            texts.append(data.decode())
    return "\n".join(texts)


@pytest.fixture
def known(person, prescribed, clinician):
    """A client with a distinct word in every text field."""
    today, now = timezone.localdate(), timezone.now()
    for field in Client._meta.fields:
        if isinstance(field, models.TextField) or field.name in ("occupation", "referrer"):
            setattr(person, field.name, f"word-of-{field.name}")
    person.contact_detail = "word@home.example"
    person.save()
    session = sat(prescribed, 2, "yyn", effort=4)
    report(session, "comment", "word-of-a-comment")
    Screen.objects.create(
        client=person,
        asked_by=clinician,
        note="word-of-a-screen",
        asked_at=now,
        safe_because="word-of-safety",
        referred_to="word-of-a-referral",
    )
    Stop.objects.create(
        key=uuid.uuid4(), client=person, flags=["strain"], tier="end_session", pauses=False,
        said_at=now, comment="word-of-a-stop", cleared_because="word-of-clearing", cleared_at=now,
    )  # fmt: skip
    sheet = baseline_trial(person, by=clinician, note="word-of-a-sheet").baseline
    Target.objects.create(
        client=person, baseline=sheet, kind="hold", rule="longest_s", decision="changed", values={},
        proposed={}, inputs={}, decided_at=now, decided_by=clinician, reason="word-of-a-target",
    )  # fmt: skip
    Decision.objects.create(
        client=person, step="check_in", reason="days_missed", accepted=True, decided_at=now,
        decided_by=clinician, facts={"days": 3.0},
    )  # fmt: skip
    note = ClinicalNote.objects.create(
        client=person, kind="progress", first=today - timedelta(days=9), last=today,
        made_by=clinician,
    )  # fmt: skip
    words = {"meaning": "word-of-a-note"}
    note = sign_note(note, by=clinician, words=words, edition=note.edition)
    Addendum.objects.create(note=note, words="word-of-an-addendum", added_by=clinician)
    return person


def test_every_text_of_a_user_is_in_the_archive(as_clinician, known):
    text = everything_in(open_archive(as_clinician, known))
    words = {f"word-of-{each}" for each in (
        "occupation", "referrer", "voice_demands", "goals", "referral_reason", "laryngeal_finding",
        "a-comment", "a-screen", "safety", "a-referral", "a-stop", "clearing", "a-sheet", "a-target", "a-note", "an-addendum",
    )}  # fmt: skip
    assert {word for word in words if word not in text} == set()
    assert "word@home.example" in text


def test_the_page_lists_every_file_and_nothing_else(as_clinician, known):
    made = open_archive(as_clinician, known)
    page = made.read("index.html").decode()
    listed = {name for name in made.namelist() if f'<a href="{name}">' in page}
    assert listed == set(made.namelist()) - {"index.html", "archive.css"}
    for words in ("word-of-goals", "word-of-a-stop", "3 trials"):
        assert words in page
    assert json.loads(made.read("practice.schema.json")) == file.schema()
    one = as_clinician.get(reverse("exports:tries_csv", args=[known.pk])).content
    assert made.read("tries.csv") == one


def test_the_trace_of_each_trial_is_in_it(as_clinician, known, prescribed):
    one = trial(prescribed.tasks.get())
    kept = SlotAdherence(np.array([-700.0, np.nan]), np.array([-31.5, -80.0]))
    Trace.objects.create(trial=one, packed=pack_trace(kept))
    rows = list(
        csv.reader(io.StringIO(open_archive(as_clinician, known).read("traces.csv").decode()))
    )
    assert rows[1:] == [
        [str(one.key), "0.0", "-700.0", "-31.5"],
        [str(one.key), "0.02", "", "-80.0"],
    ]


def test_each_change_of_the_record_stands_with_before_and_after(as_clinician, person):
    person.occupation, person.props = "=cmd()", ["straw_6mm"]
    person.save()
    person.occupation, person.clinician = "rowing trainer", None
    person.time_zone, person.archived_at = "Asia/Tokyo", datetime(2026, 11, 3, 18, tzinfo=UTC)
    person.save()
    page = as_clinician.get(f"/clients/{person.pk}/record/").content.decode()
    assert "occupation:</span> =cmd() → rowing trainer" in page
    assert "none → 4 November 2026, 03:00" in page  # The client's address.
    made = open_archive(as_clinician, person)
    rows = list(csv.DictReader(io.StringIO(made.read("record-changes.csv").decode())))
    # Never a formula for a spreadsheet.
    assert ("occupation", "'=cmd()", "rowing trainer") in [
        (row["what"], row["before"], row["after"]) for row in rows
    ]


def test_a_client_of_whom_nothing_is_known_yet_can_be_taken_out(as_clinician, person):
    made = open_archive(as_clinician, person)
    assert len(made.read("traces.csv").decode().splitlines()) == 1  # Its header.
    assert made.testzip() is None
