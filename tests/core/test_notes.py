"""Notes, hertz and cents compared with values calculated by hand."""

from math import isclose

import pytest
from hypothesis import given
from hypothesis import strategies as st

from reedcore.errors import NotANote, PitchOutOfRange
from reedcore.pitch import Note, Spelling, cents_between, note_nearest


@pytest.mark.parametrize(
    ("name", "midi", "hz"),
    [("A4", 69, 440.0), ("F3", 53, 174.6141), ("C4", 60, 261.6256), ("f#3", 54, 184.9972)],
)
def test_a_name_is_a_number_is_a_frequency(name, midi, hz):
    assert Note.named(name).midi == midi
    assert isclose(Note.named(name).hz(), hz, abs_tol=1e-4)


def test_the_clinic_may_tune_otherwise():
    assert isclose(Note.named("A4").hz(a4_hz=442.0), 442.0)
    with pytest.raises(PitchOutOfRange):
        Note.named("A4").hz(a4_hz=450.0)


def test_black_keys_are_spelt_as_preferred():
    assert Note(54).name() == "F♯3"
    assert Note(54).name(Spelling.FLATS) == "G♭3"
    assert Note.named("G♭3") == Note.named("Gb3") == Note.named("F♯3")


@pytest.mark.parametrize("text", ["", "H3", "F", "F33", "3F", "F##3", "F3; drop table"])
def test_an_invalid_note_name_is_refused(text):
    with pytest.raises(NotANote) as refused:
        Note.named(text)
    assert refused.value.facts["text"] == text


@pytest.mark.parametrize("text", ["C0", "C9", "C#7", "B-1"])
def test_a_note_off_the_keyboard_is_refused(text):
    with pytest.raises(PitchOutOfRange):
        Note.named(text)


def test_transposing_keeps_intervals():
    low, high = Note.named("C3"), Note.named("G3")
    assert high.transpose(-3).midi - low.transpose(-3).midi == high.midi - low.midi


def test_cents_by_hand():
    assert isclose(cents_between(from_hz=440, to_hz=880), 1200)
    assert isclose(cents_between(from_hz=440, to_hz=415.3047), -100, abs_tol=1e-3)
    for bad in (0.0, -1.0, float("nan"), float("inf")):
        with pytest.raises(PitchOutOfRange):
            cents_between(from_hz=440, to_hz=bad)


@given(st.integers(24, 96), st.floats(-49.9, 49.9))
def test_the_nearest_note_and_the_rest_make_the_frequency_again(midi, cents):
    hz = Note(midi).hz() * 2 ** (cents / 1200)
    note, rest = note_nearest(hz)
    assert note == Note(midi)
    assert isclose(rest, cents, abs_tol=1e-6)


@given(st.integers(24, 96), st.sampled_from(Spelling))
def test_a_name_leads_back_to_its_note(midi, spelling):
    assert Note.named(Note(midi).name(spelling)) == Note(midi)
