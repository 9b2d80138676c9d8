"""Logs from elsewhere: typed, imported from a table, or from a folder."""

import uuid
from datetime import date, timedelta

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone

from tests.web.test_recordings import voice, wav
from web.record.models import SelfReport, Session, Trial

DAY = date(2026, 11, 20)


def type_log(browser, person, **cells):
    body = {"key": str(uuid.uuid4()), "day": DAY.isoformat(), **cells}
    return browser.post(reverse("intake:paper", args=[person.pk]), body)


def test_a_day_on_paper_is_kept_and_marked_as_such(as_clinician, person, task):
    cells = {f"cell-{task.pk}-0": "4,5", f"cell-{task.pk}-1": "5.2", f"effort-{task.pk}": "3"}
    key = str(uuid.uuid4())
    for _ in range(2):  # A second press of the button doubles nothing.
        assert type_log(as_clinician, person, key=key, **cells).status_code == 302
    assert sorted(Trial.objects.values_list("total_s", flat=True)) == [4.5, 5.2]
    trial = Trial.objects.first()
    assert trial.source == Trial.Source.PAPER
    assert timezone.localdate(trial.performed_at) == DAY
    assert SelfReport.objects.get().value == 3
    assert Session.objects.get().place == Session.Place.PAPER


def test_a_typing_error_is_reported_and_nothing_is_lost(as_clinician, person, task):
    cells = {f"cell-{task.pk}-0": "5.2", f"cell-{task.pk}-1": "52O", f"effort-{task.pk}": "12"}
    response = type_log(as_clinician, person, **cells)
    assert response.status_code == 422
    page = response.content.decode()
    assert "“52O” is not a valid time" in page
    assert "effort must be a number from 1 to 10, not “12”" in page
    assert 'value="5.2"' in page
    assert not Trial.objects.exists()


def test_a_day_to_come_is_refused(as_clinician, person, task):
    tomorrow = (timezone.localdate() + timedelta(days=1)).isoformat()
    response = type_log(as_clinician, person, day=tomorrow, **{f"cell-{task.pk}-0": "5"})
    assert "This day is in the future." in response.content.decode()


CSV = """when;exercise;held;effort
20.11.2026;oh;4,5;3
2026-11-21;oh;1:05;
21/11/2026;oh;quick;4
2026-11-21;humming;6;
"""


def table(browser, person, **body):
    return browser.post(reverse("intake:table", args=[person.pk]), body)


def test_a_table_is_looked_at_first_and_kept_on_acceptance(as_clinician, person, task):
    upload = SimpleUploadedFile("log.csv", CSV.encode())
    page = table(as_clinician, person, file=upload).content.decode()
    assert not Trial.objects.exists()
    assert "Line 4: “quick” is not a time" in page
    mapped = {
        "text": CSV,
        "day": "0",
        "task": "1",
        "seconds": "2",
        "effort": "3",
        "name-0": str(task.pk),
        "name-1": "",
    }
    page = table(as_clinician, person, **mapped).content.decode()
    assert "Save 2 trials" in page
    key = str(uuid.uuid4())
    for _ in range(2):
        assert table(as_clinician, person, accept="1", key=key, **mapped).status_code == 302
    assert sorted(Trial.objects.values_list("total_s", flat=True)) == [4.5, 65.0]
    assert {trial.source for trial in Trial.objects.all()} == {Trial.Source.TABLE}


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "The submitted file is empty"),
        (b"a,b\n", "not a table"),
        (b"day,seconds\n" + b"2026-11-20,5\n" * 2001, "not a table"),
        (b"\x00\xff\xfe,\x00\n1,2\n", "Choose the column for:"),
        (b"<script>,x\n1,2\n", "&lt;script&gt;"),
    ],
    ids=["nothing", "only names", "too long", "bytes", "hostile"],
)
def test_a_file_that_is_no_table_is_reported(as_clinician, person, task, data, says):
    response = table(as_clinician, person, file=SimpleUploadedFile("log.csv", data))
    page = response.content.decode()
    assert says in page or "Choose a CSV file first" in page
    assert "<script>," not in page
    assert not Trial.objects.exists()


def test_recordings_of_a_folder_are_measured(as_clinician, person, task):
    url = reverse("intake:recordings", args=[person.pk])
    key = str(uuid.uuid4())
    for _ in range(2):
        body = {
            "key": key,
            "task": task.pk,
            "day": DAY.isoformat(),
            "recording": SimpleUploadedFile("a.wav", wav(voice())),
        }
        assert "5.4 seconds" in as_clinician.post(url, body).json()["sentence"]
    trial = Trial.objects.get()
    assert trial.source == Trial.Source.FILE
    assert timezone.localdate(trial.performed_at) == DAY
    bad = {
        "key": str(uuid.uuid4()),
        "task": task.pk,
        "day": DAY.isoformat(),
        "recording": SimpleUploadedFile("a.wav", b"x"),
    }
    assert as_clinician.post(url, bad).status_code == 422
    assert as_clinician.post(url, {**bad, "day": "soon"}).status_code == 422
