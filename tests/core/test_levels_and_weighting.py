"""Levels: the curves of the standard, the calibration, and three kinds that are never mixed."""

from dataclasses import replace
from datetime import date
from math import log10

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from reedcore.acoustics import analyse
from reedcore.acoustics.track.weighting import (
    Weighting,
    weighted_by_db,
    weighted_level_dbfs,
    weighting_db,
)
from reedcore.acoustics.voice.levels import steady_level_dbfs, steady_samples
from reedcore.devices.levels import (
    LevelSetting,
    NotCalibrated,
    RecordedLevel,
    RelativeLevel,
    SoundPressureLevel,
    calibrate_level,
    energetic_mean_db,
    level_relative_to,
)
from reedcore.errors import NoSteadySound, ValueOutOfRange
from tests.core.sounds import RATE

#: IEC 61672-1, table 3: nominal frequency → A, C.
STANDARD = {
    63: (-26.2, -0.8), 125: (-16.1, -0.2), 250: (-8.6, 0.0), 500: (-3.2, 0.0), 1000: (0.0, 0.0),
    2000: (1.2, -0.2), 4000: (1.0, -0.8), 8000: (-1.1, -3.0),
}  # fmt: skip
#: Class 1: lower and upper limit of the error.
CLASS_1 = dict.fromkeys(STANDARD, (-1.0, 1.0)) | {1000: (-0.7, 0.7), 8000: (-2.5, 1.5)}


@pytest.mark.parametrize("hz", STANDARD)
def test_the_curves_are_the_standards(hz):
    exact = 1000.0 * 10 ** (round(10 * log10(hz / 1000)) / 10)
    for curve, expected in zip((Weighting.A, Weighting.C), STANDARD[hz], strict=True):
        assert weighting_db(np.array([exact]), curve)[0] == pytest.approx(expected, abs=0.06)


CARRIED = [
    (rate, hz)
    for rate in (8_000, 16_000, 44_100, 48_000, 96_000)
    for hz in STANDARD
    if hz <= min(8_000, 0.45 * rate)
]


@pytest.mark.parametrize(("rate", "hz"), CARRIED)
def test_a_sine_is_weighted_within_class_1(rate, hz):
    t = np.arange(3 * rate) / rate
    sine = 0.25 * np.sin(2 * np.pi * hz * t)
    for curve, expected in zip((Weighting.A, Weighting.C), STANDARD[hz], strict=True):
        error = weighted_level_dbfs(sine, rate, curve) - (20 * log10(0.25) + expected)
        low, high = CLASS_1[hz]
        assert low <= error <= high
    plain = weighted_level_dbfs(sine, rate, Weighting.Z)
    assert plain == pytest.approx(20 * log10(0.25), abs=0.05)


def test_a_constant_is_no_sound():
    assert weighted_level_dbfs(np.full(16_000, 0.5), 16_000, Weighting.Z) < -200


HERE = LevelSetting("tablet microphone", "browser 1", 0.30)
TODAY = date(2026, 11, 9)
COMFORTABLE = RecordedLevel(-32.0, HERE)
CALIBRATION = calibrate_level(meter_db_spl=70.0, recorded=COMFORTABLE, on=TODAY)


def test_the_offset_is_reading_less_recording():
    assert CALIBRATION.offset_db == 102.0
    louder = CALIBRATION.apply(RecordedLevel(-22.0, HERE), on=TODAY)
    assert louder == SoundPressureLevel(80.0, "C", 0.30)
    assert str(louder) == "80 dB(C) SPL at 30 cm"


CHANGES = {
    "the day it expires": ({}, date(2026, 12, 9), {NotCalibrated.EXPIRED}),
    "the day before": ({}, date(2026, 12, 8), set()),
    "before it was made": ({}, date(2026, 11, 8), {NotCalibrated.NOT_YET}),
    "another device": ({"device": "phone"}, TODAY, {NotCalibrated.OTHER_DEVICE}),
    "another browser": ({"browser": "browser 2"}, TODAY, {NotCalibrated.OTHER_BROWSER}),
    "another distance": ({"distance_m": 0.5}, TODAY, {NotCalibrated.OTHER_DISTANCE}),
    "a centimetre": ({"distance_m": 0.31}, TODAY, set()),
}


@pytest.mark.parametrize(("changes", "day", "objections"), CHANGES.values(), ids=CHANGES.keys())
def test_any_change_ends_a_calibration(changes, day, objections):
    level = RecordedLevel(-30.0, replace(HERE, **changes))
    made = CALIBRATION.apply(level, on=day)
    if objections:
        assert set(made) == objections
    else:
        assert isinstance(made, SoundPressureLevel)


def test_an_uncalibrated_level_cannot_be_written_as_spl():
    for level in (COMFORTABLE, RelativeLevel(3.0)):
        assert "SPL" not in str(level)
        assert not hasattr(level, "db_spl")
        assert not hasattr(level, "at")


def test_relative_levels_stay_on_their_device():
    assert level_relative_to(COMFORTABLE, RecordedLevel(-26.0, HERE)) == RelativeLevel(6.0)
    elsewhere = RecordedLevel(-26.0, replace(HERE, device="phone"))
    assert level_relative_to(COMFORTABLE, elsewhere) is None


@given(st.floats(0.05, 4.0), st.floats(0.05, 4.0), st.floats(40, 110))
def test_distance_there_and_back(one, other, level):
    spl = SoundPressureLevel(level, "C", one)
    assert spl.at_distance(other).at_distance(one).db_spl == pytest.approx(level)
    if abs(other / one - 1) > 1e-6:
        assert (spl.at_distance(other).db_spl > level) == (other < one)


def test_twice_the_distance_is_six_decibels_less():
    assert SoundPressureLevel(70, "C", 0.3).at_distance(0.6).db_spl == pytest.approx(
        63.98, abs=0.01
    )


def test_the_mean_is_that_of_the_powers():
    assert energetic_mean_db([60.0, 70.0]) == pytest.approx(67.40, abs=0.01)
    with pytest.raises(ValueOutOfRange):
        energetic_mean_db([])


@pytest.mark.parametrize(("reading", "recorded"), [(10, -30), (200, -30), (70, -120), (70, 0)])
def test_an_impossible_calibration_is_refused(reading, recorded):
    with pytest.raises(ValueOutOfRange):
        calibrate_level(meter_db_spl=reading, recorded=RecordedLevel(recorded, HERE), on=TODAY)


def test_a_tone_that_is_no_hold_calibrates_all_the_same():
    sound = np.concatenate(
        [np.zeros(RATE), 0.1 * np.sin(2 * np.pi * 500 * np.arange(3 * RATE) / RATE)]
    )
    level = steady_level_dbfs(analyse(sound, RATE).frames)
    assert level == pytest.approx(-20.0, abs=0.2)


def test_a_room_without_a_sound_calibrates_nothing():
    noise = np.random.default_rng(1).normal(0.0, 0.01, 3 * RATE)
    with pytest.raises(NoSteadySound):
        steady_level_dbfs(analyse(noise, RATE).frames)


def tone_at(hz, seconds=3):
    return np.concatenate(
        [np.zeros(RATE), 0.1 * np.sin(2 * np.pi * hz * np.arange(seconds * RATE) / RATE)]
    )


@pytest.mark.parametrize(
    ("hz", "weighting", "db"),
    [(63, "A", -26.2), (125, "A", -16.1), (250, "A", -8.6), (1000, "A", 0.0), (63, "C", -0.8)],
)
def test_a_meter_with_a_weighting_reads_a_low_sound_lower(hz, weighting, db):
    sound = tone_at(hz)
    steady = steady_samples(analyse(sound, RATE).frames, sound, RATE)
    assert len(steady) == pytest.approx(3 * RATE, rel=0.05)
    assert weighted_by_db(steady, RATE, Weighting(weighting)) == pytest.approx(db, abs=0.3)


def test_one_sound_on_two_meters_is_one_calibration():
    """The same tone of 125 Hz at 80 dB, read with A and with C, gives the same calibration."""
    recorded = RecordedLevel(-20.0, HERE)
    offsets = [
        calibrate_level(
            meter_db_spl=80.0 + by, recorded=recorded, weighting=weighting, weighted_by_db=by,
            on=TODAY,
        )
        for weighting, by in (("A", -16.1), ("C", -0.2))
    ]  # fmt: skip
    assert [each.offset_db for each in offsets] == pytest.approx([100.0, 100.0])
    assert {each.weighting for each in offsets} == {"Z"}
    unknown = calibrate_level(meter_db_spl=63.9, recorded=recorded, weighting="A", on=TODAY)
    assert (unknown.offset_db, unknown.weighting) == (pytest.approx(83.9), "A")


def test_silence_is_weighted_by_nothing():
    assert weighted_by_db(np.zeros(0), RATE, Weighting.A) == 0.0
