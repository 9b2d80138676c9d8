"""Each further measure on a sound made to have it."""

from math import isnan

import numpy as np
import pytest

from reedcore.acoustics import HoldKind, TakeKind, analyse
from reedcore.acoustics.moves.beat import against_beat
from reedcore.acoustics.moves.glide import Direction, Movement
from reedcore.acoustics.voice.levels import level_shape
from reedcore.acoustics.voice.steadiness import middle_of
from reedcore.errors import ValueOutOfRange
from reedcore.synthvoice import (
    VOWELS,
    BreathIn,
    Cough,
    HeldVoice,
    Hiss,
    Room,
    Silence,
    Talk,
    Tone,
    VoicedPart,
    render,
    speak,
)
from tests.core.sounds import RATE, held, silence, tone

LEAD, TAIL = Silence(1.0), Silence(1.0)


def measure_parts(*parts, task=None, room=None, seed=3, **asked):
    clip = render((LEAD, *parts, TAIL), room=room, rate_hz=RATE * 2, seed=seed)
    return analyse(clip.samples, clip.rate_hz, task=task, **asked), clip


def the_hold(*parts, **asked):
    analysis, clip = measure_parts(*parts, **asked)
    assert len(analysis.holds) == 1, analysis.holds
    return analysis.holds[0], clip.truth


# --- tremor ---


@pytest.mark.parametrize(
    ("hz", "cents", "db"), [(5.0, 200.0, 6.0), (4.0, 50.0, 1.5), (8.0, 60.0, 2.0)]
)
def test_tremor_has_its_rate_and_extent(hz, cents, db):
    voice = VoicedPart(8.0, 150.0, tremor_hz=hz, tremor_cents=cents, tremor_db=db)
    hold, _ = the_hold(voice)
    assert hold.tremor.rate_hz == pytest.approx(hz, abs=0.1)
    assert hold.tremor.extent_cents == pytest.approx(cents, rel=0.12)
    assert hold.breaks == ()


def test_a_steady_voice_has_no_tremor_and_neither_has_a_break():
    assert the_hold(VoicedPart(6.0, 150.0))[0].tremor is None
    assert the_hold(VoicedPart(6.0, 150.0, breaks=((2.0, 0.15),)))[0].tremor is None


def test_a_tremor_of_level_alone_is_found():
    hold, _ = the_hold(VoicedPart(6.0, 150.0, tremor_db=4.0))
    assert hold.tremor.rate_hz == pytest.approx(5.0, abs=0.1)
    assert hold.tremor.extent_db == pytest.approx(4.0, abs=0.5)


# --- trills and bubbles ---


@pytest.mark.parametrize("hz", [15.0, 22.0, 30.0, 38.0])
@pytest.mark.parametrize("pitch", [100.0, 220.0])
def test_a_voiced_trill_is_one_hold_without_breaks_or_tremor(hz, pitch):
    hold, truth = the_hold(VoicedPart(4.0, pitch, flutter_hz=hz))
    assert hold.duration_s == pytest.approx(4.0, abs=0.2)
    assert hold.flutter.rate_hz == pytest.approx(hz, abs=0.5)
    assert hold.breaks == ()
    assert hold.tremor is None
    assert isnan(hold.cpps_db)
    assert 1200 * np.log2(hold.pitch.median_hz / truth.median_hz) == pytest.approx(0, abs=10)


@pytest.mark.parametrize("hz", [16.0, 25.0])
def test_voiceless_bubbles_are_a_hold_of_hiss(hz):
    hold, truth = the_hold(Hiss(4.0, flutter_hz=hz), task=TakeKind.HISS)
    assert hold.kind is HoldKind.HISS
    assert hold.duration_s == pytest.approx(truth.duration_s, abs=0.2)


# --- hiss ---


def test_a_hiss_is_timed_and_has_no_pitch():
    hold, truth = the_hold(Hiss(6.0), task=TakeKind.HISS)
    assert hold.start_s == pytest.approx(truth.start_s, abs=0.1)
    assert hold.end_s == pytest.approx(truth.end_s, abs=0.1)
    assert isnan(hold.pitch.median_hz)
    assert hold.steady_s == pytest.approx(5.7, abs=0.2)


@pytest.mark.parametrize("seconds", [6.0, 25.0])
def test_a_long_hiss_needs_only_a_moment_of_room(seconds):
    clip = render((Silence(0.4), Hiss(seconds), Silence(0.4)), room=Room(-68.0), seed=2)
    (hiss,) = analyse(clip.samples, clip.rate_hz, task=TakeKind.HISS).holds
    assert hiss.duration_s == pytest.approx(seconds, abs=0.1)


def test_a_hiss_needs_a_rate_that_carries_it():
    clip = render((LEAD, Hiss(6.0), TAIL), rate_hz=8_000)
    assert analyse(clip.samples, 8_000, task=TakeKind.HISS).holds == ()


def test_a_hiss_is_no_voice_and_a_voice_no_hiss():
    assert measure_parts(Hiss(4.0), task=TakeKind.HOLD)[0].holds == ()
    assert measure_parts(VoicedPart(4.0, 200.0), task=TakeKind.HISS)[0].holds == ()


# --- s to z ---


@pytest.mark.parametrize("gap", [0.0, 0.2, 0.5])
def test_the_join_of_s_and_z(gap):
    analysis, _ = measure_parts(
        Hiss(4.0), Silence(gap), VoicedPart(3.0, 140.0), task=TakeKind.S_TO_Z
    )
    pair = analysis.s_to_z
    assert pair.s_duration_s == pytest.approx(4.0, abs=0.1)
    assert pair.z_duration_s == pytest.approx(3.0, abs=0.1)
    assert pair.gap_s == pytest.approx(gap, abs=0.05)
    if gap == 0.0:
        assert pair.gap_s == 0.0


@pytest.mark.parametrize("attack_s", [0.03, 0.10, 0.20])
@pytest.mark.parametrize("gap", [0.0, 0.3])
def test_the_z_has_its_note_and_its_onset(attack_s, gap):
    buzz = VoicedPart(3.0, 147.0, attack_s=attack_s)
    pair = measure_parts(Hiss(4.0), Silence(gap), buzz, task=TakeKind.S_TO_Z)[0].s_to_z
    assert pair.z_hz == pytest.approx(147.0, rel=0.005)
    assert pair.z_onset_rise_ms == pytest.approx(800 * attack_s, rel=0.3, abs=12)


def test_one_without_the_other_is_no_pair():
    assert measure_parts(Hiss(4.0), task=TakeKind.S_TO_Z)[0].s_to_z is None
    assert measure_parts(VoicedPart(4.0, 140.0), task=TakeKind.S_TO_Z)[0].s_to_z is None


# --- glides ---


def glide(*points):
    seconds = points[-1][0]
    analysis, _ = measure_parts(
        VoicedPart(seconds, tuple(points), jitter_cents=2), task=TakeKind.GLIDE
    )
    return analysis.glide


@pytest.mark.parametrize(
    ("start", "end", "direction"), [(110, 440, Direction.UP), (520, 130, Direction.DOWN)]
)
def test_a_glide_has_its_ends_and_its_direction(start, end, direction):
    found = glide((0.0, start), (4.0, end))
    low, high = sorted((start, end))
    assert 1200 * abs(np.log2(found.low_hz / low)) < 50
    assert 1200 * abs(np.log2(found.high_hz / high)) < 50
    assert found.direction is direction
    assert [segment.kind.value for segment in found.segments] == [direction.value]
    assert found.jumps == ()
    assert found.breaks == ()


def test_the_first_pulses_of_a_low_voice_are_no_high_note():
    voice = VoicedPart(3.5, ((0.0, 91.0), (3.5, 260.0)), vowel="ah", jitter_cents=5.0)
    clip = render((Silence(0.5), voice, Silence(1.4)), room=Room(-68.0), seed=3)
    found = analyse(clip.samples, clip.rate_hz, task=TakeKind.GLIDE).glide
    assert 1200 * abs(np.log2(found.high_hz / 260)) < 50
    assert found.jumps == ()


def test_a_high_glide_keeps_its_octave():
    """A bright vowel above 500 Hz: between two samples its first peak looks lower than the
    second."""
    points = ((0.0, 236.0), (2.5, 594.0), (5.0, 236.0))
    voice = VoicedPart(5.0, points, vowel="ee", cycle_jitter=0.005, breathiness_db=-28.0)
    found = measure_parts(voice, task=TakeKind.GLIDE)[0].glide
    assert found.jumps == ()
    assert 1200 * abs(np.log2(found.high_hz / 594)) < 50


def test_a_hill_with_a_level_top_has_three_segments():
    found = glide((0.0, 150), (2.0, 300), (3.5, 300), (5.5, 150))
    kinds = [segment.kind for segment in found.segments]
    assert kinds == [Movement.UP, Movement.STEADY, Movement.DOWN]
    top = found.segments[1]
    assert top.start_s - 1.0 == pytest.approx(2.0, abs=0.15)
    assert top.end_s - 1.0 == pytest.approx(3.5, abs=0.15)
    assert found.cycles == 1
    assert found.direction is Direction.UP_AND_DOWN


def test_sirens_are_counted():
    points = [(at, 200 if at % 2 == 0 else 400) for at in range(7)]
    assert glide(*points).cycles == 3


def test_a_flip_is_a_jump_with_its_note_and_direction():
    found = glide((0.0, 150), (2.0, 220), (2.02, 290), (4.0, 400))
    (jump,) = found.jumps
    assert jump.at_s - 1.0 == pytest.approx(2.0, abs=0.06)
    assert jump.semitones == pytest.approx(4.8, abs=1.0)
    assert 1200 * abs(np.log2(jump.hz / 220)) < 120


def test_a_break_in_a_glide_differs_from_a_jump():
    voice = VoicedPart(4.0, ((0.0, 150.0), (4.0, 300.0)), breaks=((2.0, 0.15),), jitter_cents=2)
    found = measure_parts(voice, task=TakeKind.GLIDE)[0].glide
    assert len(found.breaks) == 1
    assert found.jumps == ()


# --- speech ---


def test_spoken_lines_by_breath_group():
    parts = (Talk(2.0, 140.0), Silence(0.8), Talk(3.0, 140.0), Silence(0.9), Talk(2.5, 140.0))
    speech = measure_parts(*parts, task=TakeKind.SPEECH)[0].speech
    assert len(speech.groups) in (3, 4)  # The synthetic talker may pause at any time.
    assert speech.groups[0].start_s == pytest.approx(1.0, abs=0.15)
    assert any(pause.start_s == pytest.approx(3.0, abs=0.2) for pause in speech.pauses)
    assert 3.0 < speech.voiced_s < 6.5
    assert 120 < speech.f0_median_hz < 165
    assert 18 < speech.breaths_per_min < 30
    assert 3 < speech.f0_range_semitones < 12


def test_nobody_speaking_is_no_speech():
    assert measure_parts(Silence(2.0), task=TakeKind.SPEECH)[0].speech is None


# --- onset, end, cepstrum, shape ---


@pytest.mark.parametrize("attack_s", [0.03, 0.10, 0.20])
def test_onset_rise_is_ten_to_ninety_per_cent(attack_s):
    hold, _ = the_hold(VoicedPart(3.0, 200.0, attack_s=attack_s))
    assert hold.onset_rise_ms == pytest.approx(800 * attack_s, rel=0.3, abs=8)


def test_a_faded_end_is_less_sure_than_a_clear_one():
    clear, _ = the_hold(VoicedPart(4.0, 200.0), room=Room(-50))
    faded, truth = the_hold(VoicedPart(6.0, 200.0, trail_s=1.5), room=Room(-50))
    assert faded.end_uncertainty_s > clear.end_uncertainty_s
    assert faded.end_s < truth.end_s


@pytest.mark.parametrize("vowel", sorted(VOWELS))
@pytest.mark.parametrize("pitch_hz", [110, 130, 150, 180, 200, 250, 300, 330, 370, 400])
def test_breath_lowers_cepstral_prominence(pitch_hz, vowel):
    prominence = [
        the_hold(VoicedPart(1.5, pitch_hz, vowel=vowel, breathiness_db=breath))[0].cpps_db
        for breath in (-35, -20, -12)
    ]
    assert prominence[0] > prominence[1] > prominence[2] > 0


def test_a_swell_has_its_rise_fall_and_peak():
    clip = speak(HeldVoice(VoicedPart(6.0, 200.0, swell_db=10.0)), rate_hz=RATE)
    analysis = analyse(clip.samples, RATE)
    shape = level_shape(middle_of(analysis.frames[analysis.longest.frame_slice()]))
    assert shape.rise_db == pytest.approx(10.0 * 2.75 / 3, abs=0.6)
    assert shape.fall_db == pytest.approx(10.0 * 2.75 / 3, abs=0.6)
    assert shape.peak_s == pytest.approx(2.75, abs=0.3)
    assert shape.rms_db < 0.3


def test_a_start_against_the_beat():
    late = against_beat(start_s=3.15, beat_s=3.0, beats_per_minute=120)
    assert late.ms == pytest.approx(150)
    assert late.beats == pytest.approx(0.3)
    assert against_beat(start_s=2.9, beat_s=3.0, beats_per_minute=60).ms < 0
    with pytest.raises(ValueOutOfRange):
        against_beat(start_s=0, beat_s=0, beats_per_minute=0)


# --- sounds that must not mislead it ---

HOLD = VoicedPart(4.0, 174.6)
AROUND = {
    "a breath in": (BreathIn(), Silence(0.08), HOLD),
    "a long breath in": (BreathIn(1.4), Silence(0.08), HOLD),
    "a cough after": (HOLD, Silence(0.5), Cough()),
    "talk after": (HOLD, Silence(0.6), Talk(3.0, 150.0)),
    "talk soon after": (HOLD, Silence(0.3), Talk(2.0, 230.0)),
    "talk before": (Talk(3.0, 150.0), Silence(0.7), HOLD),
    "the tone before": (Tone(2.0, 174.6), Silence(0.8), HOLD),
}


@pytest.mark.parametrize("parts", AROUND.values(), ids=AROUND.keys())
@pytest.mark.parametrize("seed", [1, 2, 3])
def test_only_the_hold_counts(parts, seed):
    hold, truth = the_hold(*parts, seed=seed)
    assert hold.start_s == pytest.approx(truth.start_s, abs=0.1)
    assert hold.end_s == pytest.approx(truth.end_s, abs=0.1)


@pytest.mark.parametrize("seed", range(5))
@pytest.mark.parametrize("pitch", [110.0, 210.0])
def test_talk_alone_is_no_hold(seed, pitch):
    assert measure_parts(Talk(6.0, pitch), seed=seed)[0].holds == ()


def test_a_tone_that_the_application_tells_of_is_never_measured():
    # A steady tone that wavers like a voice, as through a poor loudspeaker.
    samples = np.concatenate([silence(0.5), tone(220, 2.0), held(220, 3.0)])
    told = analyse(samples, RATE, reference_tone=(0.5, 2.5))
    assert [round(hold.duration_s, 1) for hold in told.holds] == [3.0]
    assert len(analyse(samples, RATE).holds) == 2
    with pytest.raises(ValueOutOfRange):
        analyse(samples, RATE, reference_tone=(2.0, 1.0))


@pytest.mark.parametrize("snr", [15, 10])
@pytest.mark.parametrize("tilt", [0.0, 5.0])
def test_a_loud_room_moves_the_edges_little(snr, tilt):
    hold, truth = the_hold(HOLD, room=Room(HOLD.level_dbfs - snr, tilt_db=tilt))
    assert hold.start_s == pytest.approx(truth.start_s, abs=0.2)
    assert hold.end_s == pytest.approx(truth.end_s, abs=0.2)
    assert 1200 * np.log2(hold.pitch.median_hz / truth.median_hz) == pytest.approx(0, abs=10)


@pytest.mark.parametrize("jitter", [0.02, 0.04])
def test_a_rough_voice_is_one_hold(jitter):
    hold, truth = the_hold(VoicedPart(5.0, 120.0, cycle_jitter=jitter, shimmer_db=1.5))
    assert hold.duration_s == pytest.approx(truth.duration_s, abs=0.1)
    assert hold.breaks == ()


@pytest.mark.parametrize("boost", [12.0, 20.0])
def test_a_strong_overtone_is_not_taken_for_the_note(boost):
    hold, truth = the_hold(VoicedPart(4.0, 150.0, overtone_db=boost))
    assert 1200 * np.log2(hold.pitch.median_hz / truth.median_hz) == pytest.approx(0, abs=5)


def background_talkers(seconds, level_db, seed):
    """Return three voices elsewhere in the room, one syllable after another."""
    rng = np.random.default_rng(seed)
    count = round(seconds * RATE)
    total = np.zeros(count)
    for _ in range(3):
        at = 0
        while at < count:
            part = VoicedPart(
                rng.uniform(0.1, 0.35),
                rng.uniform(100, 240),
                vowel=str(rng.choice(["ah", "oh", "ee"])),
            )
            word = render((part,), rate_hz=RATE, seed=int(rng.integers(1_000_000))).samples
            here = word[: count - at]
            total[at : at + len(here)] += here
            at += len(word) + round(rng.uniform(0.02, 0.4) * RATE)
    return total / np.sqrt(np.mean(total**2)) * 10 ** (level_db / 20)


@pytest.mark.parametrize("seed", range(11, 15))
@pytest.mark.parametrize("level_db", [-56.0, -46.0, -38.0])
def test_people_talking_in_the_room_lengthen_no_hold(level_db, seed):
    clip = render(
        (Silence(1.5), VoicedPart(5.0, 150.0 + 10 * seed, vowel="oh"), Silence(3.0)), room=Room(-66.0), rate_hz=RATE, seed=seed,
    )  # fmt: skip
    sound = clip.samples + background_talkers(len(clip.samples) / RATE, level_db, seed)
    hold = analyse(sound, RATE, task=TakeKind.HOLD).longest
    assert hold.duration_s == pytest.approx(5.0, abs=0.15)
    assert hold.start_s == pytest.approx(1.5, abs=0.1)
