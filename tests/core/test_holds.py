"""Holds in sound with known figures, from two sources."""

from math import isnan

import numpy as np
import pytest

from reedcore.acoustics import QualityReason, analyse
from reedcore.errors import EmptyRecording
from reedcore.synthvoice import HeldVoice, Room, VoicedPart, speak
from tests.core.sounds import ALIVE_CENTS, RATE, held, silence, tone

#: A frame is 10 ms long and its window 50 ms: an edge is known to about half a window.
EDGE_S = 0.05
#: A semitone is 100 cents; three cents are inaudible.
PITCH_CENTS = 3.0


def only_hold(samples, rate=RATE, **asked):
    analysis = analyse(samples, rate, **asked)
    assert len(analysis.holds) == 1, analysis.holds
    return analysis.holds[0]


@pytest.mark.parametrize("hz", [65.4, 98.0, 174.61, 311.1, 587.3, 1046.5])
@pytest.mark.parametrize("rate", [8_000, 16_000, 44_100, 48_000, 96_000])
def test_a_buzz_is_found_where_it_is(hz, rate):
    hold = only_hold(held(hz, 2.0, rate=rate), rate, target_hz=hz)
    assert hold.start_s == pytest.approx(0.8, abs=EDGE_S)
    assert hold.end_s == pytest.approx(2.8, abs=EDGE_S)
    assert abs(hold.target_error_cents) < PITCH_CENTS
    assert hold.on_pitch
    assert hold.pitch.spread_cents < PITCH_CENTS


VOICES = {
    "low": HeldVoice(VoicedPart(seconds=4.0, pitch_hz=98.0, vowel="ah")),
    "middle, after a breath": HeldVoice(VoicedPart(seconds=6.0, pitch_hz=174.6), breath_in=True),
    "high": HeldVoice(VoicedPart(seconds=3.0, pitch_hz=392.0, vowel="ee")),
    "breathy": HeldVoice(VoicedPart(seconds=4.0, pitch_hz=220.0, breathiness_db=-14.0)),
    "trembling": HeldVoice(VoicedPart(seconds=5.0, pitch_hz=196.0, tremor_cents=180.0)),
    "trailing off": HeldVoice(VoicedPart(seconds=6.0, pitch_hz=220.0, fall_db=16.0)),
    "in a loud room": HeldVoice(VoicedPart(seconds=5.0, pitch_hz=146.8), room=Room(-34.0)),
    "scooping up": HeldVoice(VoicedPart(seconds=4.0, pitch_hz=174.6, scoop_cents=-250.0)),
}


@pytest.mark.parametrize("voice", VOICES.values(), ids=VOICES.keys())
@pytest.mark.parametrize("rate", [16_000, 48_000])
def test_a_voice_is_found_where_it_is(voice, rate):
    clip = speak(voice, rate_hz=rate)
    hold = only_hold(clip.samples, rate, target_hz=clip.truth.median_hz)
    assert hold.start_s == pytest.approx(clip.truth.start_s, abs=2 * EDGE_S)
    assert hold.end_s == pytest.approx(clip.truth.end_s, abs=2 * EDGE_S)
    assert abs(hold.target_error_cents) < 5.0


def test_a_short_break_is_reported_and_does_not_end_the_hold():
    clip = speak(
        HeldVoice(VoicedPart(seconds=5.0, pitch_hz=196.0, breaks=((2.0, 0.12), (3.5, 0.2))))
    )
    hold = only_hold(clip.samples, clip.rate_hz)
    assert hold.duration_s == pytest.approx(5.0, abs=2 * EDGE_S)
    assert len(hold.breaks) == 2
    for found, (start_s, end_s) in zip(hold.breaks, clip.truth.breaks, strict=True):
        assert (found.start_s + found.end_s) / 2 == pytest.approx((start_s + end_s) / 2, abs=0.03)


def test_half_a_second_of_silence_ends_it():
    samples = np.concatenate([held(200, 2.0, after=0.25), held(200, 1.5, before=0.25)])
    analysis = analyse(samples, RATE)
    assert [round(hold.duration_s, 1) for hold in analysis.holds] == [2.0, 1.5]
    assert analysis.longest is analysis.holds[0]


def test_steady_seconds_end_where_the_pitch_leaves():
    pitch = np.concatenate([np.full(4 * RATE, 200.0), np.full(2 * RATE, 212.0)])  # +101 cents.
    hold = only_hold(held(pitch, 6.0))
    assert hold.duration_s == pytest.approx(6.0, abs=EDGE_S)
    assert hold.steady_s == pytest.approx(3.75, abs=0.1)


def test_a_steady_part_stays_steady_with_later_sound():
    pitch = np.concatenate([np.full(2 * RATE, 200.0), np.full(5 * RATE, 212.0)])
    assert only_hold(held(pitch, 7.0)).steady_s == pytest.approx(1.75, abs=0.1)


def test_a_slow_slide_is_steady_until_it_has_left_where_it_was():
    steady = []
    for cents in (90.0, 120.0, 200.0, 400.0):
        pitch = 200.0 * 2 ** (np.linspace(0, cents, 6 * RATE) / 1200)
        steady.append(only_hold(held(pitch, 6.0)).steady_s)
    # After t seconds it is half of its distance from its own median so far.
    for found, cents in zip(steady, (90.0, 120.0, 200.0, 400.0), strict=True):
        assert found == pytest.approx(min(5.75, 50.0 / (0.5 * cents / 6.0)), abs=0.6)
    assert steady == sorted(steady, reverse=True)


def test_steady_seconds_end_where_the_level_leaves():
    sound = tone(200.0, 6.0)
    sound[4 * RATE :] *= 10 ** (-5 / 20)
    samples = np.concatenate([silence(0.8), sound, silence(0.8)]) + silence(7.6, seed=2)
    assert only_hold(samples).steady_s == pytest.approx(3.75, abs=0.1)


def test_drift_is_the_last_second_less_the_first():
    pitch = 200.0 * 2 ** (np.linspace(0, -60, 6 * RATE) / 1200)
    hold = only_hold(held(pitch, 6.0))
    # The middle is 5.5 s long: its first and last seconds are 4.5 s apart of 6.
    assert hold.pitch.drift_cents == pytest.approx(-60 * 4.5 / 6, abs=2 * ALIVE_CENTS)
    assert isnan(only_hold(held(200.0, 2.0)).pitch.drift_cents)


def test_level_is_that_of_the_sound():
    buzz = tone(200.0, 3.0)
    # As loud as a sine with an amplitude of 0.1.
    buzz *= 0.1 / np.sqrt(2) / np.sqrt(np.mean(buzz**2))
    samples = np.concatenate([silence(0.8), buzz, silence(0.8)])
    level = only_hold(samples).level
    assert level.mean_dbfs == pytest.approx(-20.0, abs=0.1)
    assert level.slope_db_per_s == pytest.approx(0.0, abs=0.02)


@pytest.mark.parametrize("fall_db", [6.0, 12.0])
def test_level_slope_and_end_fall_of_a_voice_that_fades(fall_db):
    clip = speak(HeldVoice(VoicedPart(seconds=8.0, pitch_hz=220.0, fall_db=fall_db)))
    level = only_hold(clip.samples, clip.rate_hz).level
    assert level.slope_db_per_s == pytest.approx(-fall_db / 8.0, abs=0.1)
    assert level.end_fall_db == pytest.approx(fall_db / 2, abs=0.6)


def test_an_octave_low_is_measured_as_an_octave_low():
    clip = speak(HeldVoice(VoicedPart(seconds=3.0, pitch_hz=87.31)))
    hold = only_hold(clip.samples, clip.rate_hz, target_hz=174.61)
    assert hold.target_error_cents == pytest.approx(-1200, abs=6)
    assert not hold.on_pitch


NOT_HOLDS = {
    "silence": silence(4.0),
    "digital silence": np.zeros(4 * RATE),
    "a fan": silence(4.0, noise=0.05),
    "a cough": np.concatenate([silence(1), silence(0.3, noise=0.3, seed=3), silence(1)]),
    "mains hum at 50 Hz": tone(50.0, 4.0, level=0.02, alive=0) + silence(4.0),
    "mains hum at 60 Hz": tone(60.0, 4.0, level=0.02, alive=0) + silence(4.0),
    "the reference tone": np.concatenate(
        [silence(1), tone(220.0, 3.0, level=0.05, alive=0), silence(1)]
    ),
    "a word": held(180.0, 0.4),
}


@pytest.mark.parametrize("sound", NOT_HOLDS.values(), ids=NOT_HOLDS.keys())
def test_sounds_other_than_a_held_voice_are_no_hold(sound):
    analysis = analyse(sound, RATE)
    assert analysis.holds == ()
    assert not analysis.quality.is_usable
    assert analysis.quality.reasons[0] in (QualityReason.SILENT, QualityReason.NO_VOICE)


def test_no_sample_at_all_is_refused():
    with pytest.raises(EmptyRecording):
        analyse(np.zeros(0), RATE)


def test_the_loudest_channel_is_measured():
    left = held(200.0, 2.0)
    for other in (np.zeros_like(left), -left, 0.1 * held(300.0, 2.0)):
        stereo = np.stack([other * 0.9, left], axis=1)
        hold = only_hold(stereo, target_hz=200.0)
        assert abs(hold.target_error_cents) < PITCH_CENTS
