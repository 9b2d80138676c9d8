"""Note sets that move as a block, growing patterns, and both as MIDI."""

from io import BytesIO

import pytest
from hypothesis import given
from hypothesis import strategies as st
from mido import MidiFile

from reedcore.errors import ValueOutOfRange
from reedcore.formats.midi import write_midi
from reedcore.pitch import Note
from reedcore.pitch.note_sets import BASS, TREBLE, fit_to_range
from reedcore.pitch.patterns import GROWING, BreathRule, PatternDrill


def names(notes):
    return " ".join(note.name() for note in notes)


def test_the_usual_sets():
    assert (TREBLE.warm_up.name(), names(TREBLE.power)) == ("F4", "C4 D4 E4 F4 G4")
    assert (BASS.warm_up.name(), names(BASS.power)) == ("F3", "C3 D3 E3 F3 G3")


def test_a_set_moves_as_little_as_it_takes():
    low = fit_to_range(BASS, lowest=Note.named("A2"), highest=Note.named("E3"))
    assert (low.moved_st, names(low.power)) == (-3, "A2 B2 C♯3 D3 E3")
    assert fit_to_range(BASS, lowest=Note.named("A2"), highest=Note.named("A3")) == BASS
    assert fit_to_range(BASS, lowest=Note.named("C3"), highest=Note.named("E3")) is None


@given(st.integers(24, 80), st.integers(7, 16))
def test_a_transposed_pattern_keeps_its_intervals_within_the_range(low, width):
    found = fit_to_range(TREBLE, lowest=Note(low), highest=Note(low + width))
    if found is None:
        assert abs(low - 60) + width > 0
        return
    assert all(low <= note.midi <= low + width for note in found.notes)
    steps = [note.midi - found.power[0].midi for note in found.power]
    assert steps == [0, 2, 4, 5, 7]


def test_the_growing_row():
    assert [len(group) for group in GROWING] == [1, 3, 5, 7, 9]
    assert GROWING[2] == (1, 2, 3, 2, 1)


def test_rounds_go_down_turn_and_stop_at_the_bridge():
    drill = PatternDrill(
        Note.named("C3"), rounds_down=2, rounds_up=9, bridge=Note.named("A3"), beat_s=0.5
    )
    rounds = drill.rounds()
    assert names(each.groups[0][0] for each in rounds) == "C3 B2 A♯2 B2 C3 C♯3 D3"
    # The next one up would sing A♯3, above the bridge.
    assert max(note for each in rounds for group in each.groups for note in group).name() == "A3"
    assert [each.remaining for each in rounds] == [6, 5, 4, 3, 2, 1, 0]
    # 25 notes and 4 gaps of one beat each.
    assert rounds[0].seconds == pytest.approx(14.5)
    assert drill.seconds == pytest.approx(7 * 14.5 + 6 * 1.0)


def test_the_floor_turns_it_early():
    drill = PatternDrill(Note.named("C3"), rounds_down=5, rounds_up=0, floor=Note.named("B2"))
    assert names(each.groups[0][0] for each in drill.rounds()) == "C3 B2"


@pytest.mark.parametrize(
    "wrong",
    [
        {"groups": ((0,),)},
        {"groups": ((1, 10),)},
        {"step_st": 0},
        {"rounds_up": 99},
        {"beat_s": 0.0},
        {"ceiling": Note.named("E3")},
    ],
)
def test_a_pattern_that_cannot_be_sung_is_refused(wrong):
    with pytest.raises(ValueOutOfRange):
        PatternDrill(Note.named("C3"), breath=BreathRule.CATCH, **wrong)


def test_midi_holds_the_notes_and_the_rests():
    notes = [(Note.named("C3"), 1.0), (None, 1.0), (Note.named("D3"), 2.0)]
    file = MidiFile(file=BytesIO(write_midi(notes, beat_s=0.5, title="Growing 1–5")))
    played = [m for m in file if m.type in ("note_on", "note_off")]
    assert [m.note for m in played if m.type == "note_on"] == [48, 50]
    assert file.length == pytest.approx(4 * 0.5)
    assert [round(m.time, 3) for m in played] == [0.0, 0.5, 0.5, 1.0]


def test_midi_without_a_note_is_refused():
    with pytest.raises(ValueOutOfRange):
        write_midi([(None, 1.0)], beat_s=0.5, title="")
