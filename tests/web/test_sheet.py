"""The baseline sheet: trials from every source, stored, chosen, left out, and summarised."""

import re
from uuid import uuid4

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from reedcore.baseline.steps import BY_CODE, STEPS
from reedcore.formats.wav import write_wav
from tests.factories import baseline, baseline_trial
from web.baseline.models import BaselineTrial, ReferenceFigure
from web.baseline.presenters import excluded_steps
from web.baseline.simulated import simulated_take
from web.baseline.summaries import summary_of
from web.sound.models import Calibration


@pytest.fixture
def sheet(person, clinician):
    return baseline(person, by=clinician)


def url(name, sheet, *more):
    return reverse(f"baseline:{name}", args=[sheet.pk, *more])


def type_in(as_clinician, sheet, step, **typed):
    return as_clinician.post(url("typed", sheet, step), {"key": str(uuid4()), **typed})


def summary(sheet):
    sheet.refresh_from_db()
    return summary_of(sheet)


def clip_of(sheet, step, seed=1):
    clip = simulated_take(sheet.client, BY_CODE[step], seed=seed)
    return SimpleUploadedFile("take.wav", write_wav(clip.samples, clip.rate_hz))


def send(as_clinician, sheet, step, **more):
    body = {"key": str(uuid4()), "recording": clip_of(sheet, step), **more}
    return as_clinician.post(url("recording", sheet, step), body)


HEARD = {
    "calibration": {"level_dbfs", "weighted_by_db"},
    "comfortable": {"total_s", "steady_s", "median_hz", "spread_cents", "level_dbfs", "breaks"},
    "habitual": {"median_hz", "range_st", "voiced_s"},
    "s": {"total_s"},
    "z": {"total_s", "median_hz"},
    "glide_up": {"low_hz", "high_hz"},
    "loud": {"level_dbfs"},
}


@pytest.mark.parametrize(("step", "figures"), HEARD.items(), ids=HEARD.keys())
def test_a_recording_is_measured_for_its_step(as_clinician, sheet, step, figures):
    assert send(as_clinician, sheet, step).status_code == 200
    assert figures <= set(sheet.trials.get().figures)


def test_every_step_that_is_heard_can_be_simulated(as_clinician, sheet):
    for step in STEPS:
        response = as_clinician.get(url("simulated", sheet, step.code) + "?seed=3")
        assert response.status_code == (200 if step.capture.is_heard else 422)


def test_the_same_trial_sent_three_times_is_one_trial(as_clinician, sheet):
    key = str(uuid4())
    for _ in range(3):
        send(as_clinician, sheet, "vowel", key=key)
    assert sheet.trials.count() == 1
    other = as_clinician.post(url("typed", sheet, "z"), {"key": key, "total_s": "12"})
    assert other.status_code == 422
    assert sheet.trials.count() == 1


WRONG = {
    "minus three seconds": ("vowel", {"total_s": "-3"}, "not possible"),
    "400 seconds": ("vowel", {"total_s": "400"}, "not possible"),
    "no number": ("vowel", {"total_s": "long"}, "Type a number"),
    "not a number": ("vowel", {"total_s": "nan"}, "Type a number"),
    "12 mL": ("volume", {"volume_ml": "12"}, "not possible"),
    "a lowest above the highest": ("glide_up", {"low_hz": "C4", "high_hz": "C3"}, "is above"),
    "no note": ("habitual", {"median_hz": "H2"}, "is not a note"),
    "a pitch nobody has": (
        "habitual",
        {"median_hz": "20"},
        "Hz is not a possible voice pitch. Enter",
    ),
}


@pytest.mark.parametrize(("step", "typed", "says"), WRONG.values(), ids=WRONG.keys())
def test_impossible_figures_are_refused_with_the_reason(as_clinician, sheet, step, typed, says):
    response = type_in(as_clinician, sheet, step, **typed)
    assert response.status_code == 422
    assert says in response.json()["sentence"]
    assert not sheet.trials.exists()


def test_an_odd_figure_asks_to_be_confirmed(as_clinician, sheet):
    asked = type_in(as_clinician, sheet, "vowel", total_s="70").json()
    assert asked["asks"]
    assert "70 s is an unusual length" in asked["sentence"]
    assert type_in(as_clinician, sheet, "vowel", total_s="70", confirmed="1").status_code == 200
    assert summary(sheet).longest_vowel.seconds == 70.0


def test_notes_and_hertz_may_be_typed_with_a_comma(as_clinician, sheet):
    type_in(as_clinician, sheet, "glide_up", low_hz="A2", high_hz="440,0 Hz")
    glide = summary(sheet).glide_range
    assert (round(glide.low_hz), round(glide.high_hz)) == (110, 440)
    assert glide.span_st == pytest.approx(24.0)


def test_the_sheet_moves_on_when_a_step_is_complete(as_clinician, sheet):
    pages = [type_in(as_clinician, sheet, "s", total_s=t).json()["stage"] for t in ("14", "15")]
    assert 'data-step="s"' in pages[0]
    assert 'data-step="z"' in pages[1]


def test_the_summary_contains_no_diagnosis(as_clinician, sheet, person):
    ReferenceFigure.objects.create(clinic=person.clinic, measure="longest_vowel_s", low=10.0)
    for seconds in ("8.0", "9.1", "7.7"):
        type_in(as_clinician, sheet, "vowel", total_s=seconds)
    for step, seconds in (("s", "15"), ("s", "14"), ("z", "9"), ("z", "10")):
        type_in(as_clinician, sheet, step, total_s=seconds)
    page = type_in(as_clinician, sheet, "volume", volume_ml="3200").json()["stage"]
    for words in (
        "9.1 s", "of 3; below the clinic’s reference range", "1.50",
        "a reason for a laryngeal examination", "352 mL/s",
    ):  # fmt: skip
        assert words in page


def test_an_untouched_sheet_invents_nothing(as_clinician, sheet):
    page = as_clinician.get(url("sheet", sheet)).content.decode()
    assert "No measurements yet." in page
    assert all(value is None for name, value in vars_of(summary(sheet)) if name not in ("on",))


def vars_of(values):
    return [(name, getattr(values, name)) for name in values.__dataclass_fields__]


def act(as_clinician, trial, what, words=""):
    return as_clinician.post(reverse("baseline:trial", args=[trial.pk, what]), {"words": words})


def test_a_trial_left_out_is_kept_and_can_come_back(as_clinician, sheet, person, clinician):
    short = baseline_trial(person, by=clinician, sheet=sheet, figures={"total_s": 9.0})
    long = baseline_trial(person, by=clinician, sheet=sheet, figures={"total_s": 15.0})
    act(as_clinician, long, "discard")
    assert summary(sheet).longest_vowel.seconds == 9.0
    assert sheet.trials.count() == 2
    act(as_clinician, long, "restore")
    assert summary(sheet).longest_vowel.seconds == 15.0
    act(as_clinician, short, "note", "coughed <i>twice</i>")
    page = as_clinician.get(url("sheet", sheet) + "?step=vowel").content.decode()
    assert "coughed &lt;i&gt;twice" in page


def test_the_best_can_be_overruled_only_with_a_reason(as_clinician, sheet, person, clinician):
    baseline_trial(person, by=clinician, sheet=sheet, figures={"total_s": 15.0})
    other = baseline_trial(person, by=clinician, sheet=sheet, figures={"total_s": 12.0})
    assert act(as_clinician, other, "choose").status_code == 422
    act(as_clinician, other, "choose", "the longer one was helped by a second breath")
    assert summary(sheet).longest_vowel.seconds == 12.0
    act(as_clinician, other, "choose")
    assert summary(sheet).longest_vowel.seconds == 15.0
    # The users of each change: entered, accepted, and no longer accepted.
    changes = other.history.order_by("history_date")
    assert [change.chosen for change in changes] == [False, True, False]
    assert changes.last().history_user == clinician


def test_a_caution_on_record_takes_its_steps_out(as_clinician, sheet, person):
    person.cautions = ["pressure"]
    person.save()
    out = excluded_steps(person, on=summary(sheet).on)
    assert set(out) == {"vowel", "s", "z", "loud", "volume"}
    page = as_clinician.get(url("sheet", sheet) + "?step=vowel").content.decode()
    assert 'data-step="glide_up"' in page
    assert "not emptying the lungs" in page


def test_no_sheet_is_begun_during_voice_rest(as_clinician, person):
    from django.utils import timezone

    person.voice_rest_until = timezone.localdate()
    person.save()
    response = as_clinician.post(reverse("baseline:all", args=[person.pk]), follow=True)
    assert "No baseline was started." in response.content.decode()
    assert not person.baselines.exists()


def calibrated_trial(as_clinician, sheet, source="simulated", **figures):
    return BaselineTrial.objects.create(
        key=uuid4(), baseline=sheet, step="calibration", source=source, made_at=sheet.begun_at,
        figures={"level_dbfs": -24.0, **figures}, capture={"device": "Tablet", "browser": "X"},
    )  # fmt: skip


def test_uncalibrated_says_relative_and_calibrated_says_spl(as_clinician, sheet, person, clinician):
    capture = {"device": "Tablet", "browser": "X"}
    for level in (-30.0, -29.0):
        baseline_trial(
            person, by=clinician, sheet=sheet, step="comfortable",
            figures={"level_dbfs": level}, capture=capture,
        )  # fmt: skip
    baseline_trial(
        person,
        by=clinician,
        sheet=sheet,
        step="loud",
        figures={"level_dbfs": -17.5},
        capture=capture,
    )
    before = as_clinician.get(url("sheet", sheet)).content.decode()
    assert "relative: this device is not calibrated" in before
    assert "+12.0 dB relative" in before
    assert "dB(C) SPL" not in before
    calibrated_trial(as_clinician, sheet)
    reading = {"meter_db_spl": "78.5", "weighting": "C", "distance_cm": "30"}
    after = as_clinician.post(url("calibrate", sheet), reading).json()["stage"]
    # −29.5 dBFS + (78.5 + 24)
    assert "73 dB(C) SPL at 30 cm" in after
    assert Calibration.objects.get().device == "Tablet"


def test_the_weighting_of_the_meter_is_compensated(as_clinician, sheet):
    """A low tone that a meter reads 16 dB lower with A is not softer."""
    calibrated_trial(as_clinician, sheet, weighted_by_db={"A": -16.0, "C": -0.2, "Z": 0.0})
    reading = {"meter_db_spl": "62.5", "weighting": "A", "distance_cm": "30"}
    as_clinician.post(url("calibrate", sheet), reading)
    value = Calibration.objects.get().value
    assert value.offset_db == pytest.approx(62.5 + 16.0 + 24.0)
    assert value.weighting == "Z"


@pytest.mark.parametrize(
    ("typed", "says"),
    [({"meter_db_spl": "500"}, "not possible"), ({"distance_cm": "0"}, "not possible")],
)
def test_an_impossible_reading_comes_back_with_what_was_typed(as_clinician, sheet, typed, says):
    calibrated_trial(as_clinician, sheet)
    reading = {"meter_db_spl": "78.5", "weighting": "C", "distance_cm": "30", **typed}
    answer = as_clinician.post(url("calibrate", sheet), reading).json()
    assert answer["wrong"]
    assert says in answer["stage"]
    assert not Calibration.objects.exists()


def test_the_comfortable_range_lies_inside_the_glides(as_clinician, sheet):
    type_in(as_clinician, sheet, "glide_up", low_hz="A2", high_hz="A4")
    wide = {"comfortable_low_hz": "F2", "comfortable_high_hz": "E4"}
    answer = as_clinician.post(url("entries", sheet, "range"), wide).json()
    assert "below the lowest note of the glides" in answer["stage"]
    assert 'value="F2"' in answer["stage"]
    inside = {"comfortable_low_hz": "C3", "comfortable_high_hz": "E4"}
    as_clinician.post(url("entries", sheet, "range"), inside)
    assert summary(sheet).comfortable_range.high_hz == pytest.approx(329.6, abs=0.1)


def test_a_loud_room_speaks_up_at_once(as_clinician, sheet):
    from reedcore.synthvoice import Room, Silence, VoicedPart, render

    parts = (Silence(1.0), VoicedPart(4.0, 140.0), Silence(1.0))
    clip = render(parts, room=Room(-29.0))
    file = SimpleUploadedFile("loud.wav", write_wav(clip.samples, clip.rate_hz))
    body = {"key": str(uuid4()), "recording": file}
    stage = as_clinician.post(url("recording", sheet, "comfortable"), body).json()["stage"]
    assert "The room was too loud" in stage
    stood = re.search(r"only (\d+) dB louder than the room", stage)
    assert int(stood[1]) in (9, 10)
    assert "level_dbfs" not in sheet.trials.get().figures


def test_two_sheets_stand_side_by_side(as_clinician, person, clinician, sheet):
    baseline_trial(person, by=clinician, sheet=sheet, figures={"total_s": 12.0})
    second = baseline_trial(person, by=clinician, figures={"total_s": 15.5}).baseline
    page = as_clinician.get(reverse("baseline:all", args=[person.pk])).content.decode()
    assert page.index("12.0 s") < page.index("15.5 s")
    assert str(second.pk) in page


def test_a_step_that_the_record_forbids_takes_no_figure(as_clinician, sheet, person, clinician):
    person.cautions = ["pressure"]
    person.save()
    assert type_in(as_clinician, sheet, "vowel", total_s="12").status_code == 422
    assert send(as_clinician, sheet, "vowel").status_code == 422
    assert as_clinician.post(url("spirometer", sheet)).status_code == 422
    assert type_in(as_clinician, sheet, "glide_up", low_hz="A2", high_hz="A3").status_code == 200
    person.screens.create(asked_at=sheet.begun_at, asked_by=clinician, flags=["neck_lump"])
    assert type_in(as_clinician, sheet, "glide_down", low_hz="A2", high_hz="A3").status_code == 422
    assert sheet.trials.count() == 1
