"""Sounds that are easily mistaken, made without the simulated voice."""

import numpy as np
import pytest

from bench.hard import rooms, source
from reedcore.acoustics import TakeKind, analyse
from reedcore.acoustics.track.lines import drop_octave_leaps
from reedcore.acoustics.voice.quality import QualityReason

RATE = source.RATE


@pytest.fixture
def rng():
    return np.random.default_rng(7)


def analyse_scene(sound, *, rng, task=TakeKind.HOLD, **scene):
    return analyse(np.clip(rooms.scene(sound, rng=rng, **scene), -1, 1), RATE, task=task)


def held_vowel(hz, mouth, *, rng, seconds=4.0, **how):
    return source.voice(source.steady(seconds, hz, rng=rng), mouth, rng=rng, **how)


def melody(seconds, hz, *, rng):
    """Return the pitch of a sentence: a new target every fifth of a second."""
    knots = hz * 2 ** (rng.uniform(-5, 4, int(seconds * 5) + 2) / 12)
    at = np.arange(round(seconds * RATE)) / RATE * 5
    return np.interp(at, np.arange(knots.size), knots)


@pytest.mark.parametrize("hz", [110.0, 210.0])
def test_a_mouth_and_a_melody_that_move_are_talk_and_no_hold(rng, hz):
    shapes = ("ah", "m", "ee", "oo", "ay", "ng", "oh")
    mouth = source.moving(shapes, every_s=0.13, quick_s=0.05)
    said = source.voice(melody(4.0, hz, rng=rng), mouth, rng=rng)  # Without a gap.
    assert analyse_scene(said, rng=rng).holds == ()


@pytest.mark.parametrize("hz", [110.0, 210.0, 330.0])
@pytest.mark.parametrize(
    ("shapes", "every"), [(("m", "ah"), 0.2), (("ee", "ah"), 0.24), (("ah", "ee", "oo"), 0.5)]
)
def test_a_mouth_that_moves_on_one_note_is_a_hold(rng, hz, shapes, every):
    (hold,) = analyse_scene(
        held_vowel(hz, source.moving(shapes, every_s=every), rng=rng), rng=rng
    ).holds
    assert hold.duration_s == pytest.approx(4.0, abs=0.15)


@pytest.mark.parametrize(("seconds", "count"), [(1.25, 0), (2.0, 1)])
def test_a_sentence_that_ends_on_one_note_is_no_short_hold(rng, seconds, count):
    """Speech may stay on one note for a second by chance; a hold lasts longer."""
    said = held_vowel(165.0, source.moving(("m", "ah"), every_s=0.2), rng=rng, seconds=seconds)
    assert len(analyse_scene(said, rng=rng).holds) == count


def test_pulses_on_one_note_are_a_hold(rng):
    hum = held_vowel(196.0, source.mouth("m"), rng=rng)
    pulsed = hum * (0.55 + 0.45 * np.sin(2 * np.pi * 2.5 * np.arange(len(hum)) / RATE))
    (hold,) = analyse_scene(pulsed, rng=rng).holds
    assert hold.duration_s == pytest.approx(4.0, abs=0.2)


@pytest.mark.parametrize("decay_s", [0.5, 0.9])
def test_a_room_that_goes_on_sounding_lengthens_no_hold(rng, decay_s):
    sound = np.pad(held_vowel(147.0, source.mouth("ah"), rng=rng), (0, RATE))
    (hold,) = analyse_scene(rooms.add_reverberation(sound, decay_s, rng=rng), rng=rng).holds
    assert hold.duration_s == pytest.approx(4.0, abs=0.15)


def test_a_voice_that_fades_is_no_echo_but_its_end_is_unsure(rng):
    sound = held_vowel(147.0, source.mouth("ah"), rng=rng, seconds=6.0)
    fade = np.clip((np.arange(len(sound)) / RATE - 5.0), 0, 1)
    (hold,) = analyse_scene(sound * 10 ** (-45 * fade / 20), rng=rng).holds
    assert hold.duration_s > 5.6
    assert hold.end_uncertainty_s > 0.3


def test_a_strong_overtone_is_not_the_note(rng):
    sound = held_vowel(262.0, source.mouth("ay", scale=1.15), rng=rng, open_share=0.42)
    (hold,) = analyse_scene(sound, rng=rng).holds
    assert hold.pitch.median_hz == pytest.approx(262.0, rel=0.02)


@pytest.mark.parametrize(("hz", "shape"), [(262.0, "ah"), (392.0, "ay"), (330.0, "ay")])
def test_fry_at_the_end_of_a_glide_is_no_high_note(rng, hz, shape):
    mouth = source.mouth(shape)
    down = source.voice(hz * 2 ** (np.linspace(10, 0, 3 * RATE) / 12), mouth, rng=rng)
    low = np.full(round(0.8 * RATE), 34.0)
    rattle = source.voice(low, mouth, rng=rng, jitter=0.12, open_share=0.3)
    glide = analyse_scene(np.concatenate([down, 0.35 * rattle]), rng=rng, task=TakeKind.GLIDE).glide
    assert glide.high_hz == pytest.approx(hz * 2 ** (10 / 12), rel=0.03)
    assert glide.jumps == ()


def hum(many, hz, *, overtone=0.5):
    at = 2 * np.pi * hz * np.arange(many) / RATE
    return 0.006 * (np.sin(at) + overtone * np.sin(3 * at))


@pytest.mark.parametrize("hz", [349.0, 466.0, 523.0])
def test_a_closed_mouth_at_an_end_is_of_the_hold_as_it_is_within(hz):
    for seed in range(3):
        rng = np.random.default_rng(seed)
        mouth = source.moving(("m", "ah"), every_s=0.19, quick_s=0.06, scale=1.25)
        (hold,) = analyse_scene(held_vowel(hz, mouth, rng=rng, seconds=5.0), rng=rng).holds
        assert hold.duration_s == pytest.approx(5.0, abs=0.15)


@pytest.mark.parametrize("mains_hz", [50.0, 60.0])
@pytest.mark.parametrize("overtone", [0.0, 0.5])
@pytest.mark.parametrize("band", [(1500.0, 4000.0), (3500.0, 7900.0)])
def test_hum_under_a_noise_is_no_voice_neither_low_nor_high(rng, mains_hz, overtone, band):
    noise = np.pad(rooms.at_level(rooms.hiss(4.0, rng=rng, band=band), -40.0), RATE)
    room = rng.normal(0.0, 2e-4, noise.size)  # The hum continues throughout.
    sound = noise + room + hum(noise.size, mains_hz, overtone=overtone)
    assert analyse(sound, RATE, task=TakeKind.HOLD).holds == ()


@pytest.mark.parametrize("mains_hz", [50.0, 60.0])
def test_a_hiss_over_hum_is_timed(rng, mains_hz):
    hiss = rooms.at_level(rooms.hiss(3.0, rng=rng, band=(3800.0, 8500.0)), -34.0)
    sound = np.pad(hiss, RATE) + rng.normal(0.0, 2e-4, hiss.size + 2 * RATE)
    (hold,) = analyse(sound + hum(sound.size, mains_hz), RATE, task=TakeKind.HISS).holds
    assert hold.duration_s == pytest.approx(3.0, abs=0.15)


def test_a_voice_over_hum_keeps_its_pitch(rng):
    for hz in (82.0, 147.0, 466.0, 880.0):
        voice = np.pad(held_vowel(hz, source.mouth("ah"), rng=rng), RATE)
        (hold,) = analyse_scene(voice + hum(voice.size, 50.0), rng=rng).holds
        assert hold.pitch.median_hz == pytest.approx(hz, rel=0.01)


def test_a_break_of_a_trill_near_its_end_is_the_voices_own(rng):
    """A glide down on a lip trill that begins an octave up for a second: all of it is voice."""
    steps = np.concatenate([np.full(RATE, 12.0), np.linspace(0, -5, 3 * RATE)])
    sound = source.voice(262 * 2 ** (steps / 12), source.mouth("oh", scale=1.15), rng=rng)
    chopped = sound * (0.55 + 0.45 * np.sin(2 * np.pi * 23 * np.arange(len(sound)) / RATE))
    glide = analyse_scene(chopped, rng=rng, task=TakeKind.GLIDE).glide
    assert glide.high_hz == pytest.approx(524, rel=0.03)
    (jump,) = glide.jumps
    assert jump.semitones == pytest.approx(-12, abs=1)


def test_the_edges_of_gaps_do_not_spread_the_pitch(rng):
    sound = held_vowel(110.0, source.mouth("ah"), rng=rng, seconds=6.0)
    whole = analyse_scene(sound, rng=rng).holds[0].pitch.spread_cents
    for start in (1.5, 3.2, 4.4):
        sound[round(start * RATE) : round((start + 0.12) * RATE)] *= 0.02
    (hold,) = analyse_scene(sound, rng=rng).holds
    assert len(hold.breaks) == 3
    assert hold.pitch.spread_cents == pytest.approx(whole, rel=0.3)


def test_air_drawn_in_is_no_hiss_and_a_soft_s_is(rng):
    assert (
        analyse_scene(rooms.breath(1.5, rng=rng), rng=rng, task=TakeKind.HISS, dbfs=-40.0).holds
        == ()
    )
    (hiss,) = analyse_scene(rooms.hiss(4.0, rng=rng), rng=rng, task=TakeKind.HISS, dbfs=-40.0).holds
    assert hiss.duration_s == pytest.approx(4.0, abs=0.15)


def test_a_hiss_over_the_telephone_says_what_is_missing(rng):
    noise = rooms.scene(rooms.hiss(3.0, rng=rng, band=(1500.0, 3400.0)), rng=rng)
    found = analyse(noise[:: RATE // 8820], 8820, task=TakeKind.HISS)
    assert found.holds == ()
    assert found.quality.reasons == (QualityReason.NARROW_BAND,)


def test_a_breath_that_is_heard_parts_two_lines(rng):
    shapes = source.moving(("ah", "m", "ee", "oo"), every_s=0.15)
    lines = [source.voice(melody(1.6, 160.0, rng=rng), shapes, rng=rng) for _ in range(3)]
    air = 0.14 * rooms.breath(0.6, rng=rng)
    spoken = np.concatenate([lines[0], air, lines[1], air, lines[2]])
    speech = analyse_scene(spoken, rng=rng, task=TakeKind.SPEECH).speech
    assert len(speech.groups) == 3
    assert speech.breaths_per_min == pytest.approx(60 * 3 / 6.0, rel=0.1)


@pytest.mark.parametrize(
    ("mouth", "hz", "breath_db"),
    [("m", 622.0, -2.0), ("ee", 740.0, -6.0), ("ah", 233.0, -2.0), ("oh", 262.0, -2.0)],
)
def test_breath_that_the_mouth_has_coloured_does_not_lower_a_pitch(rng, mouth, hz, breath_db):
    """Over 40 ms, breath noise is periodic at the mouth's resonance; over a quarter of a second it
    is not."""
    shape = source.mouth(mouth, scale=1.15 if hz < 300 else 1.25)
    found = analyse_scene(
        held_vowel(hz, shape, rng=rng, seconds=2.5, open_share=0.85, breath_db=breath_db), rng=rng
    )
    (hold,) = found.holds
    assert abs(1200 * np.log2(hold.pitch.median_hz / hz)) < 20
    assert QualityReason.PITCH_LOOKED_AT_AGAIN in found.quality.reasons
    inside = found.frames.pitch_hz[hold.frame_slice()]
    assert np.nanmean(np.abs(inside / hz - 1) > 0.2) < 0.03


def test_a_breathy_voice_that_breaks_down_an_octave_does_so_in_what_is_saved(rng):
    pitch = source.steady(4.0, 440.0, rng=rng)
    pitch[int(2.0 * RATE) : int(3.0 * RATE)] /= 2
    mouth = source.mouth("ah", scale=1.25)
    found = analyse_scene(
        source.voice(pitch, mouth, rng=rng, open_share=0.85, breath_db=-6.0), rng=rng
    )
    track = found.frames.pitch_hz
    middle = track[100 + 215 : 100 + 285]  # After a second of room noise.
    assert np.nanmean(np.abs(middle / 220.0 - 1) < 0.06) > 0.9


def test_a_clear_voice_is_not_looked_at_again(rng):
    found = analyse_scene(held_vowel(196.0, source.mouth("ah"), rng=rng), rng=rng)
    assert QualityReason.PITCH_LOOKED_AT_AGAIN not in found.quality.reasons


@pytest.mark.parametrize("under_db", [20.0, 28.0])
@pytest.mark.parametrize("hz", [131.0, 196.0, 294.0])
def test_a_television_before_and_after_is_not_of_the_hold(rng, hz, under_db):
    """It talks throughout, at about the same pitch."""
    scale = 1.0 if hz < 170 else 1.15
    sung = held_vowel(hz, source.mouth("oh", scale=scale), rng=rng, seconds=3.5)
    whole = rooms.scene(sung, rng=rng)
    mouth = source.moving(("ah", "m", "ee", "oo", "ay", "ng", "oh"), every_s=0.13, quick_s=0.05)
    said = source.voice(melody(len(whole) / RATE, hz, rng=rng), mouth, rng=rng)[: len(whole)]
    both = whole + rooms.at_level(said, -22.0 - under_db)
    (hold,) = analyse(np.clip(both, -1, 1), RATE, task=TakeKind.HOLD).holds
    off = abs(hold.duration_s - 3.5)
    assert off < 0.2 or off < 0.2 + hold.end_uncertainty_s


def test_a_voice_that_swells_from_nothing_and_fades_is_all_of_it_held(rng):
    sung = held_vowel(196.0, source.mouth("ah", scale=1.15), rng=rng, seconds=6.0)
    at = np.linspace(0.0, 1.0, len(sung))
    sung = sung * 10 ** (-34.0 * np.abs(2.0 * at - 1.0) / 20.0)
    (hold,) = analyse_scene(sung, rng=rng).holds
    assert abs(hold.duration_s - 6.0) < 0.3


def test_an_octave_and_back_within_30_ms_is_no_leap_of_the_voice():
    scraps = [440.0, 441.0, 882.0, 884.0, 440.0, np.nan, 438.0, 219.5, 439.0]
    np.testing.assert_allclose(
        drop_octave_leaps(np.array(scraps)), [440, 441, 441, 442, 440, np.nan, 438, 439, 439]
    )
    for kept in (
        [440.0] * 5 + [220.0] * 6 + [440.0] * 5,  # The voice broke.
        [440.0] * 5 + [880.0] * 5,  # The voice jumped and stayed.
        [440.0, 440.0, 660.0, 440.0, 440.0],  # A fifth.
        [np.nan, 440.0, np.nan],
        [],
    ):
        np.testing.assert_array_equal(drop_octave_leaps(np.array(kept, float)), kept)
