"""Uncertain figures are reported as unsure; apparent faults are not."""

from dataclasses import replace

import numpy as np
import pytest
from scipy.signal import butter, sosfiltfilt

from bench.hard import rooms, source
from reedcore.acoustics import TakeKind, analyse
from reedcore.acoustics.holds.doubt import PitchDoubt
from reedcore.acoustics.track.lines import _octaves_by_lines
from reedcore.acoustics.voice.quality import QualityReason
from reedcore.catalogue import shipped_tasks
from reedcore.measures import TrialContext, kind_of
from reedcore.programme.prescribed_item import PrescribedItem
from tests.core.test_hard_sounds import RATE, analyse_scene, held_vowel, melody


@pytest.fixture
def rng():
    return np.random.default_rng(11)


def with_gaps(sound, *gaps):
    """Return the sound with silent parts from second to second, faded over 5 ms at each edge."""
    open_ = np.ones(len(sound))
    for start, end in gaps:
        open_[round(start * RATE) : round(end * RATE)] = 0.0
    return sound * np.convolve(open_, np.ones(220) / 220, mode="same")


# --- breaks ---


def test_a_voice_that_swells_by_24_db_does_not_break(rng):
    sound = held_vowel(196.0, source.mouth("ah"), rng=rng, seconds=8.0)
    swell = 10.0 ** (
        np.interp(np.arange(len(sound)), [0, len(sound) / 2, len(sound)], [-24, 0, -24]) / 20
    )
    dips = 10.0 ** (-6.0 * (np.sin(2 * np.pi * 0.9 * np.arange(len(sound)) / RATE) > 0.98) / 20)
    (hold,) = analyse_scene(sound * swell * dips, rng=rng).holds
    assert hold.breaks == ()
    assert hold.duration_s == pytest.approx(8.0, abs=0.2)


def test_arrests_of_the_voice_are_breaks_in_one_hold(rng):
    gaps = ((1.5, 1.57), (2.8, 2.9), (4.0, 4.15), (5.5, 5.6), (7.2, 7.33))
    (hold,) = analyse_scene(
        with_gaps(held_vowel(190.0, source.mouth("ah"), rng=rng, seconds=9.0), *gaps), rng=rng
    ).holds
    assert hold.duration_s == pytest.approx(9.0, abs=0.1)
    assert len(hold.breaks) == len(gaps)


def test_a_release_of_a_second_belongs_to_the_hold_and_a_room_does_not(rng):
    slow = source.voice(
        source.steady(8.0, 200.0, rng=rng), source.mouth("ah"), rng=rng, release_s=1.0
    )
    (hold,) = analyse_scene(slow, rng=rng).holds
    assert hold.end_s == pytest.approx(9.0, abs=0.25)
    short = np.pad(held_vowel(200.0, source.mouth("ah"), rng=rng, seconds=6.0), (0, 2 * RATE))
    (hold,) = analyse_scene(rooms.add_reverberation(short, 0.9, rng=rng), rng=rng).holds
    assert hold.end_s == pytest.approx(7.0, abs=0.25)


def test_a_thump_beside_a_hold_is_not_its_beginning(rng):
    thump = np.sin(2 * np.pi * 68 * np.arange(round(0.09 * RATE)) / RATE) * 0.35
    sound = np.concatenate([thump, np.zeros(441), held_vowel(131.0, source.mouth("ah"), rng=rng)])
    (hold,) = analyse_scene(sound, rng=rng).holds
    assert hold.start_s == pytest.approx(1.1, abs=0.03)


# --- pitch ---


@pytest.mark.parametrize(("hz", "shown"), [(1280.0, 0.5), (330.0, 2.0), (196.0, 2.0)])
def test_a_pitch_that_leaps_by_an_octave_is_put_where_the_lines_are(rng, hz, shown):
    sound = held_vowel(hz, source.mouth("ah", scale=1.2), rng=rng)
    analysis = analyse_scene(sound, rng=rng)
    (hold,) = analysis.holds
    part = analysis.frames[hold.frame_slice()]
    flipped = part.pitch_hz.copy()
    flipped[100:180] *= shown
    at_16k = np.interp(
        np.arange(round(len(sound) / RATE * 16_000)) / 16_000, np.arange(len(sound)) / RATE, sound
    ).astype(np.float32)
    made = _octaves_by_lines(replace(part, pitch_hz=flipped), at_16k)
    np.testing.assert_allclose(made[10:-10], part.pitch_hz[10:-10], rtol=0.02)


def test_a_voice_that_does_flip_keeps_its_octaves_and_its_pitch(rng):
    steps = np.zeros(8 * RATE)
    steps[3 * RATE : round(3.6 * RATE)] = -12.0
    sound = source.voice(330 * 2 ** (steps / 12), source.mouth("ah"), rng=rng)
    analysis = analyse_scene(sound, rng=rng)
    (hold,) = analysis.holds
    assert hold.pitch.median_hz == pytest.approx(330, rel=0.01)
    low = analysis.frames.pitch_hz[420:440]
    np.testing.assert_allclose(low, 165, rtol=0.02)


def test_a_pitch_with_a_very_wide_spread_is_not_reported(rng):
    knots = rng.uniform(-9, 9, 60)
    steps = np.interp(np.arange(6 * RATE), np.linspace(0, 6 * RATE, 60), knots)
    sound = source.voice(200 * 2 ** (steps / 12), source.mouth("ah"), rng=rng)
    analysis = analyse_scene(sound, rng=rng)
    for hold in analysis.holds:
        assert hold.pitch_doubt is PitchDoubt.UNSURE
        assert not np.isfinite(hold.pitch.spread_cents)
        assert not np.isfinite(hold.steady_s)
    if analysis.holds:
        assert QualityReason.PITCH_UNSURE in analysis.quality.reasons


def test_single_pulses_are_creak_and_no_pitch(rng):
    pulses = np.zeros(6 * RATE)
    at = np.cumsum(rng.normal(1 / 36, 0.12 / 36, 400))
    pulses[(at[at < 6] * RATE).astype(int)] = 1.0
    analysis = analyse_scene(source.through_mouth(pulses, source.mouth("ah")), rng=rng)
    for hold in analysis.holds:
        assert hold.pitch_doubt is PitchDoubt.CREAKY
        assert not np.isfinite(hold.pitch.median_hz)
    assert analysis.holds == () or QualityReason.CREAKY in analysis.quality.reasons


def test_a_fast_siren_is_a_glide_where_one_was_prescribed(rng):
    steps = np.interp(np.arange(round(1.6 * RATE)), [0, 0.8 * RATE, 1.6 * RATE], [0, 16, 0])
    sound = source.voice(175 * 2 ** (steps / 12), source.mouth("ah", scale=1.15), rng=rng)
    glide = analyse_scene(sound, rng=rng, task=TakeKind.GLIDE).glide
    assert glide.high_hz == pytest.approx(175 * 2 ** (16 / 12), rel=0.04)
    assert glide.jumps == ()


# --- neither voice nor hiss ---


def test_whispering_is_no_hold(rng):
    mouths = source.moving(("ah", "ee", "oo", "ay"), every_s=0.9)
    for seed in range(4):
        noise = np.random.default_rng(seed).standard_normal(5 * RATE)
        assert analyse_scene(source.through_mouth(noise, mouths), rng=rng).holds == ()


def test_a_breath_through_the_teeth_is_no_hiss(rng):
    band = butter(2, (2600, 9000), "bandpass", fs=RATE, output="sos")
    air = sosfiltfilt(band, rng.standard_normal(round(1.4 * RATE)))
    air *= np.interp(np.linspace(0, 1, air.size), [0, 0.3, 0.7, 1], [0.05, 1, 1, 0.05])
    assert analyse_scene(air, rng=rng, task=TakeKind.HISS).holds == ()
    (hold,) = analyse_scene(rooms.hiss(1.4, rng=rng), rng=rng, task=TakeKind.HISS).holds
    assert hold.duration_s == pytest.approx(1.4, abs=0.1)


def test_a_hiss_over_the_telephone_is_cut_off_and_not_missing(rng):
    line = butter(8, (300, 3400), "bandpass", fs=RATE, output="sos")
    hiss = sosfiltfilt(line, rooms.hiss(5.0, rng=rng, band=(1500, 9000)))
    quality = analyse_scene(hiss, rng=rng, task=TakeKind.HISS, dbfs=-30.0, room_dbfs=-75.0).quality
    assert QualityReason.NARROW_BAND in quality.reasons
    assert QualityReason.NO_VOICE not in quality.reasons


def test_a_level_that_drops_at_once_is_the_browsers(rng):
    even = held_vowel(147.0, source.mouth("ah"), rng=rng, seconds=7.0)
    dropped = even * np.where(np.arange(len(even)) < 1.6 * RATE, 1.0, 0.2)
    quality = analyse_scene(dropped, rng=rng).quality
    assert QualityReason.LEVEL_STEPPED in quality.reasons
    assert not quality.level_judged
    softer = even * 10 ** (np.linspace(0, -14, len(even)) / 20)
    assert QualityReason.LEVEL_STEPPED not in analyse_scene(softer, rng=rng).quality.reasons


# --- speech ---


def talk(hz, seconds, *, rng, pauses=()):
    shapes = ("ah", "m", "ee", "oo", "ay", "ng", "oh")
    mouth = source.moving(shapes, every_s=0.13, quick_s=0.05)
    return with_gaps(source.voice(melody(seconds, hz, rng=rng), mouth, rng=rng), *pauses)


PAUSES = ((2.0, 2.8), (4.6, 5.5))


@pytest.fixture
def lines(rng):
    return talk(120.0, 8.0, rng=rng, pauses=PAUSES)


def analyse_speech(sound, *, rng):
    return analyse_scene(sound, rng=rng, task=TakeKind.SPEECH)


def test_plain_speech_is_not_said_to_be_no_voice(rng, lines):
    analysis = analyse_speech(lines, rng=rng)
    assert analysis.quality.reasons == ()
    assert analysis.quality.is_usable
    assert len(analysis.speech.groups) == 3


@pytest.mark.parametrize("under_db", [30.0, 25.0])
def test_a_far_softer_voice_is_not_counted_as_the_speakers(rng, lines, under_db):
    alone = analyse_speech(lines, rng=rng).speech
    other = talk(210.0, 8.0, rng=rng, pauses=((1.0, 1.3), (6.0, 6.4))) * 10 ** (-under_db / 20)
    speech = analyse_speech(lines + other, rng=rng).speech
    assert speech.doubt is None
    assert speech.voiced_s == pytest.approx(alone.voiced_s, rel=0.05)
    assert 12 * abs(np.log2(speech.f0_median_hz / alone.f0_median_hz)) < 0.3
    assert not speech.has_clear_pauses or len(speech.groups) == 3


@pytest.mark.parametrize("under_db", [15.0, 12.0])
def test_another_voice_in_the_room_is_named_and_nothing_is_reported(rng, lines, under_db):
    other = talk(210.0, 8.0, rng=rng) * 10 ** (-under_db / 20)
    analysis = analyse_speech(lines + other, rng=rng)
    assert QualityReason.ANOTHER_VOICE in analysis.quality.reasons
    assert not analysis.quality.level_judged


@pytest.mark.parametrize("under_db", [25.0, 15.0])
def test_a_fan_takes_nothing_from_speech(rng, lines, under_db):
    alone = analyse_speech(lines, rng=rng).speech
    fan = rooms.coloured(len(lines), rng=rng)
    fan *= 10 ** (-under_db / 20) / np.sqrt(np.mean(fan**2))
    speech = analyse_speech(lines + fan, rng=rng).speech
    assert speech.voiced_s == pytest.approx(alone.voiced_s, rel=0.05)
    assert len(speech.groups) == 3


def test_a_caught_breath_is_a_pause_and_parts_two_groups(rng):
    sound = talk(120.0, 6.0, rng=rng, pauses=((2.5, 2.95),))
    breath = 0.12 * rooms.breath(0.26, rng=rng)
    at = round(2.6 * RATE)
    sound[at : at + breath.size] += breath
    speech = analyse_speech(sound, rng=rng).speech
    assert len(speech.groups) == 2


# --- goals of a task ---


@pytest.mark.parametrize("code", ["straw_water", "lip_trill_hold", "hum_hold"])
def test_voice_quality_of_water_and_trill_tasks_is_never_reported(rng, code):
    task = shipped_tasks()[code]
    asked = PrescribedItem(1, 1, code, task.measure, task.sound, target_s=4.0, shipped=task)
    sound = rooms.scene(held_vowel(196.0, source.mouth("oo"), rng=rng, seconds=5.0), rng=rng)
    goal = asked.goal
    columns, _ = kind_of(goal.kind).figures(goal, analyse(sound, RATE), TrialContext())
    told = columns["figures"]["cepstral_peak_db"]
    assert (told is not None) == (code == "hum_hold")
