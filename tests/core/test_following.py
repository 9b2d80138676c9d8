"""Sung patterns compared with their notes."""

import numpy as np
import pytest

from reedcore.acoustics import TakeKind, analyse
from reedcore.acoustics.moves.following import follow
from reedcore.errors import ValueOutOfRange
from reedcore.synthvoice import Silence, VoicedPart, render

FIVE = [220.0 * 2 ** (st / 12) for st in (0, 2, 4, 5, 7, 5, 4, 2, 0)]


def sung(notes, each_s=0.4):
    """Return legato: one voice whose pitch steps from note to note."""
    course, at = [], 0.0
    for hz in notes:
        course += [(at, hz), (at + each_s - 0.05, hz)]
        at += each_s
    clip = render((Silence(0.4), VoicedPart(at, tuple(course)), Silence(0.6)), rate_hz=16_000)
    return analyse(clip.samples, clip.rate_hz, task=TakeKind.GLIDE).frames


@pytest.mark.parametrize("each_s", [0.3, 0.7])
def test_at_any_tempo_each_note_is_found(each_s):
    heard = follow(sung(FIVE, each_s), FIVE)
    assert len(heard) == len(FIVE)
    assert all(note.on_pitch for note in heard)
    assert heard[4].end_s - heard[4].start_s == pytest.approx(each_s, abs=0.12)


def test_one_note_flat_is_that_note():
    flat = list(FIVE)
    flat[4] *= 2 ** (-80 / 1200)
    heard = follow(sung(flat), FIVE)
    assert [place for place, note in enumerate(heard) if not note.on_pitch] == [4]
    assert heard[4].error_cents == pytest.approx(-80, abs=15)


def test_the_whole_an_octave_low_is_on_no_note():
    heard = follow(sung([hz / 2 for hz in FIVE]), FIVE)
    assert not any(note.on_pitch for note in heard)


def test_silence_is_no_note_at_all():
    clip = render((Silence(2.0),), rate_hz=16_000)
    heard = follow(analyse(clip.samples, clip.rate_hz).frames, FIVE)
    assert all(np.isnan(note.error_cents) for note in heard)


def test_a_pattern_without_notes_is_refused():
    with pytest.raises(ValueOutOfRange):
        follow(sung(FIVE), [])


def test_the_same_note_twice_is_two_notes_parted_at_the_pause():
    parts = (VoicedPart(0.5, 220.0), Silence(0.2), VoicedPart(0.9, 220.0), Silence(0.5))
    clip = render((Silence(0.5), *parts), rate_hz=16_000, seed=3)
    heard = follow(analyse(clip.samples, clip.rate_hz).frames, [220.0, 220.0])
    assert all(note.on_pitch for note in heard)
    assert heard[0].end_s == pytest.approx(1.0, abs=0.1)
    assert heard[1].start_s == pytest.approx(1.2, abs=0.1)


def test_the_same_note_three_times_without_a_pause_is_parted_evenly():
    heard = follow(sung([220.0, 220.0, 220.0]), [220.0, 220.0, 220.0])
    lengths = [note.end_s - note.start_s for note in heard]
    assert max(lengths) - min(lengths) < 0.15
