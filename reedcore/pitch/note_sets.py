"""Note sets of the vocal function block, moved as a block to where a voice can reach them."""

from __future__ import annotations

from dataclasses import dataclass

from reedcore.errors import ValueOutOfRange

from .notes import Note

#: A set moved further is another exercise.
FARTHEST_ST = 12


@dataclass(frozen=True, slots=True)
class NoteSet:
    """The warm-up note and the power notes, lowest first, moved by this interval from their usual
    place."""

    warm_up: Note
    power: tuple[Note, ...]
    moved_st: int = 0

    def transpose(self, semitones: int) -> NoteSet:
        """Return the set this many semitones higher, with its intervals.

        Raises:
            PitchOutOfRange: off the keyboard.
        """
        return NoteSet(
            self.warm_up.transpose(semitones),
            tuple(note.transpose(semitones) for note in self.power),
            self.moved_st + semitones,
        )

    @property
    def notes(self) -> tuple[Note, ...]:
        """Return every note in it, lowest first, each once."""
        return tuple(sorted({self.warm_up, *self.power}))


def _note_set(warm_up: str, power: str) -> NoteSet:
    return NoteSet(Note.named(warm_up), tuple(Note.named(name) for name in power.split()))


TREBLE = _note_set("F4", "C4 D4 E4 F4 G4")
BASS = _note_set("F3", "C3 D3 E3 F3 G3")
#: By type of voice.
USUAL_SETS = {"treble": TREBLE, "bass": BASS}


def fit_to_range(notes: NoteSet, *, lowest: Note, highest: Note) -> NoteSet | None:
    """Return the set moved as little as possible to fit between two notes; None if it cannot.

    Raises:
        ValueOutOfRange: a lowest above the highest.
    """
    if lowest > highest:
        raise ValueOutOfRange(
            what="lowest note", value=lowest.midi, lowest=None, highest=highest.midi
        )
    first, last = notes.notes[0].midi, notes.notes[-1].midi
    if last - first > highest.midi - lowest.midi:
        return None
    up, down = max(0, lowest.midi - first), max(0, last - highest.midi)
    shift = up - down
    return notes.transpose(shift) if abs(shift) <= FARTHEST_ST else None


def middle_set(*, lowest: Note, highest: Note) -> NoteSet | None:
    """Return the five notes in the middle of a voice's range; None if the range is narrower.

    Raises:
        ValueOutOfRange: a lowest above the highest.
    """
    if lowest > highest:
        raise ValueOutOfRange(
            what="lowest note", value=lowest.midi, lowest=None, highest=highest.midi
        )
    first, last = BASS.power[0].midi, BASS.power[-1].midi
    room = (highest.midi - lowest.midi) - (last - first)
    return BASS.transpose(lowest.midi + room // 2 - first) if room >= 0 else None
