"""A glide is judged by its ends, however slow it is."""

import pytest

from reedcore.acoustics import TakeKind, analyse
from reedcore.acoustics.moves.glide import Direction
from reedcore.synthvoice import Room, Silence, VoicedPart, render

LOW, HIGH = 110.0, 220.0
#: Seconds, pitches, direction, and the semitones of all rises and all falls.
GLIDES = {
    "an octave in 8 s": (8.0, (LOW, HIGH), Direction.UP, 12.0, 0.0),
    "an octave in 16 s": (16.0, (LOW, HIGH), Direction.UP, 12.0, 0.0),
    "down in 12 s": (12.0, (HIGH, LOW), Direction.DOWN, 0.0, 12.0),
    "up and down in 20 s": (20.0, (LOW, HIGH, LOW), Direction.UP_AND_DOWN, 12.0, 12.0),
    "three hills": (6.0, (LOW, HIGH, LOW, HIGH, LOW, HIGH, LOW), Direction.UP_AND_DOWN, 36.0, 36.0),
}


@pytest.mark.parametrize(("seconds", "through", "way", "rise", "fall"), GLIDES.values(), ids=GLIDES)
def test_the_direction_of_a_slow_glide(seconds, through, way, rise, fall):
    step = seconds / (len(through) - 1)
    course = tuple((at * step, hz) for at, hz in enumerate(through))
    parts = (Silence(0.5), VoicedPart(seconds, course, level_dbfs=-26.0), Silence(1.0))
    clip = render(parts, room=Room(-68.0), rate_hz=16_000, seed=4)
    glide = analyse(clip.samples, clip.rate_hz, task=TakeKind.GLIDE).glide
    assert glide.direction is way
    assert (glide.rise_st, glide.fall_st) == (
        pytest.approx(rise, abs=2.5),
        pytest.approx(fall, abs=2.5),
    )


def test_a_vibrato_on_one_note_leads_nowhere():
    wavers = VoicedPart(5.0, LOW, level_dbfs=-26.0, tremor_cents=60.0)
    clip = render((Silence(0.5), wavers, Silence(1.0)), room=Room(-68.0), rate_hz=16_000, seed=4)
    glide = analyse(clip.samples, clip.rate_hz, task=TakeKind.GLIDE).glide
    assert (glide.rise_st, glide.fall_st) == (
        pytest.approx(0.0, abs=1.5),
        pytest.approx(0.0, abs=1.5),
    )
