"""Two months, sessions or sheets side by side, and the voice range profile."""

import re
from datetime import timedelta

import numpy as np
import pytest
from django.urls import reverse
from django.utils import timezone

from reedcore.formats.trace import PitchTrace as Heard
from reedcore.formats.trace import pack_trace
from tests.factories import baseline, baseline_trial, trial
from tests.pages import read
from tests.web.test_looking_back import moment_at, traced_trial
from web.record.models import Trace


def compare(as_clinician, person, **asked):
    response = as_clinician.get(reverse("results:compare", args=[person.pk]), asked)
    assert response.status_code == 200
    return response


def lines(response):
    return {line.name: line for line in response.context["lines"]}


@pytest.fixture
def two_months(person, task):
    for days, held in (
        (42, (4.1, 4.5)),
        (41, (4.3, 4.3)),
        (40, (4.0, 4.4)),
        (39, (4.2, 4.6)),
        (38, (4.4, 4.2)),
        (2, (9.0, 9.4)),
    ):
        for minute, seconds in enumerate(held):
            moment = moment_at(25) - timedelta(days=days, minutes=-minute)
            trial(task, performed_at=moment, total_s=seconds, spread_cents=20.0)
    return task


def test_the_first_month_and_the_newest_unless_others_are_chosen(as_clinician, person, two_months):
    response = compare(as_clinician, person)
    assert [side.name for side in response.context["sides"]] == ["October 2026", "November 2026"]
    found = lines(response)
    assert (found["Held, median"].one, found["Held, median"].other) == ("4.3 s", "9.2 s")
    assert found["Held, mean"].difference == "+4.9 s"
    assert re.fullmatch(
        r"more than chance \(limit \d\.\d s(, provisional)?\)", found["Held, mean"].words
    )
    assert all(side.chart for side in response.context["sides"])


def test_a_difference_is_of_the_figures_as_shown(as_clinician, person, task):
    for day, seconds in ((40, 5.26), (2, 8.44)):
        trial(task, performed_at=moment_at(25) - timedelta(days=day), total_s=seconds)
    found = lines(compare(as_clinician, person))["Held, median"]
    assert (found.one, found.other, found.difference) == ("5.3 s", "8.4 s", "+3.1 s")


def test_two_sessions_by_their_trials(as_clinician, person, task):
    first = traced_trial(task, moment_at(3), [0.0] * 100)
    second = traced_trial(task, moment_at(5), [20.0] * 200)
    response = compare(as_clinician, person, kind="session", a=first.key, b=second.key)
    sides = response.context["sides"]
    assert [side.close.trial for side in sides] == [first, second]
    assert all(side.close.picture for side in sides)
    assert lines(response)["Held, longest"].difference == "+2.0 s"


def test_levels_through_two_devices_are_not_compared(as_clinician, person, task):
    trial(
        task,
        performed_at=moment_at(3) - timedelta(days=30),
        level_db=1.0,
        capture={"device": "tablet"},
    )
    trial(task, performed_at=moment_at(5), level_db=6.0, capture={"device": "headset"})
    level = lines(compare(as_clinician, person))["Level"]
    assert (level.difference, level.words) == ("–", "not compared: different recording devices")


def test_two_sheets_years_apart_with_reading_and_talk(as_clinician, person, clinician):
    for years, hz in ((3, 110.0), (0, 150.0)):
        sheet = baseline(person, by=clinician)
        sheet.begun_at = timezone.now() - timedelta(days=365 * years)
        sheet.save()
        for step in ("reading", "talk"):
            baseline_trial(person, by=clinician, sheet=sheet, step=step,
                           figures={"median_hz": hz, "voiced_s": 20.0})  # fmt: skip
    page = compare(as_clinician, person, kind="sheet").content.decode()
    assert "110 Hz" in page
    assert "150 Hz" in page
    assert "Reading" in page
    assert "Talk" in page


@pytest.mark.parametrize(
    "asked", [{}, {"kind": "sheet"}, {"kind": "session"}, {"a": "x", "b": "\0"}]
)
def test_with_nothing_to_compare_it_says_so(as_clinician, person, asked):
    assert "nothing to compare yet" in read(compare(as_clinician, person, **asked))


def test_one_month_is_not_compared_with_itself(as_clinician, person, task):
    trial(task, performed_at=moment_at(3))
    assert "only one so far" in compare(as_clinician, person).content.decode()


def profile_of(as_clinician, person, **asked):
    return as_clinician.get(reverse("results:voice_range_profile", args=[person.pk]), asked)


def add_traced_trial(task, moment, cents, dbfs, **more):
    made = trial(task, performed_at=moment, **more)
    f3 = 1200 * np.log2(174.614 / 440)
    heard = Heard(np.array(cents, float) + f3, np.full(len(cents), float(dbfs)))
    Trace.objects.create(trial=made, packed=pack_trace(heard))


def test_the_field_adds_up_note_by_note_and_month_by_month(as_clinician, person, task):
    add_traced_trial(task, moment_at(3), [0.0] * 100, -20)  # Two seconds on F3.
    add_traced_trial(
        task, moment_at(4), [0.0] * 50 + [200.0] * 50, -26
    )  # One second each on F3 and G3.
    add_traced_trial(task, moment_at(3) - timedelta(days=30), [0.0] * 25, -20)
    field = profile_of(as_clinician, person).context["profile"]
    assert [(line.note, line.seconds, line.softest, line.loudest) for line in field.table] == [
        ("F3", pytest.approx(3.5), -26, -20), ("G3", pytest.approx(1.0), -26, -26),
    ]  # fmt: skip
    assert [(month, seconds) for month, seconds, _ in field.months] == [
        ("October 2026", pytest.approx(0.5)), ("November 2026", pytest.approx(4.0)),
    ]  # fmt: skip
    assert len(field.cells) == 3
    assert field.unit == "dBFS as recorded"


def test_devices_are_never_mixed_and_a_reference_makes_the_scale(as_clinician, person, task):
    add_traced_trial(task, moment_at(3), [0.0] * 100, -20, capture={"device": "tablet"})
    add_traced_trial(task, moment_at(4), [0.0] * 100, -20, capture={"device": "headset"},
            level_mean_dbfs=-20.0, level_db=4.0)  # fmt: skip
    response = profile_of(as_clinician, person)
    assert response.context["devices"] == ["headset", "tablet"]
    field = response.context["profile"]
    assert field.unit == "dB relative to the comfortable voice"
    assert [(line.seconds, line.loudest) for line in field.table] == [(pytest.approx(2.0), 4)]
    other = profile_of(as_clinician, person, device="tablet").context["profile"]
    assert other.table[0].loudest == -20


def test_no_trace_is_no_field(as_clinician, person, task):
    trial(task)
    assert (
        "No traces yet. The profile is drawn from measured practice trials."
        in profile_of(as_clinician, person).content.decode()
    )
