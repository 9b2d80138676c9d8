"""Notes by their scientific names, in equal temperament.

MIDI number m = 69 + 12·log2(f / A4); cents = 1200·log2(f / target). A4 is 440 Hz unless the clinic
says otherwise (430–446 Hz).
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import StrEnum
from math import isfinite, log2

from reedcore.errors import NotANote, PitchOutOfRange

A4_HZ = 440.0
A4_RANGE_HZ = (430.0, 446.0)
A4_MIDI = 69

#: C1 to C7: beyond any client's range, and short of typing errors.
LOWEST_MIDI, HIGHEST_MIDI = 24, 96

_STEPS = {"C": 0, "D": 2, "E": 4, "F": 5, "G": 7, "A": 9, "B": 11}
_SHARP_NAMES = ("C", "C♯", "D", "D♯", "E", "F", "F♯", "G", "G♯", "A", "A♯", "B")
_FLAT_NAMES = ("C", "D♭", "D", "E♭", "E", "F", "G♭", "G", "A♭", "A", "B♭", "B")
_NAME = re.compile(r"([A-Ga-g])(#|♯|b|♭)?(-?\d)")
_ACCIDENTALS = {None: 0, "#": 1, "♯": 1, "b": -1, "♭": -1}


class Spelling(StrEnum):
    """The spelling of the black keys for a client: sharps or flats."""

    SHARPS = "sharps"
    FLATS = "flats"


@dataclass(frozen=True, slots=True, order=True)
class Note:
    """A note of the keyboard, C1 (24) to C7 (96).

    Raises:
        PitchOutOfRange: the number lies outside that keyboard.
    """

    midi: int

    def __post_init__(self) -> None:
        if not LOWEST_MIDI <= self.midi <= HIGHEST_MIDI:
            raise PitchOutOfRange(
                what="note", value=self.midi, lowest=LOWEST_MIDI, highest=HIGHEST_MIDI
            )

    @classmethod
    def named(cls, text: str) -> Note:
        """Return the note of a scientific name: ``F3``, ``f#3``, ``B♭4``.

        Raises:
            NotANote: the text is not such a name.
            PitchOutOfRange: it is, but off the keyboard.
        """
        match = _NAME.fullmatch(text.strip())
        if match is None:
            raise NotANote(text=text)
        letter, accidental, octave = match.groups()
        return cls(12 * (int(octave) + 1) + _STEPS[letter.upper()] + _ACCIDENTALS[accidental])

    def name(self, spelling: Spelling = Spelling.SHARPS) -> str:
        """Return its scientific name, ``F♯3`` or ``G♭3``."""
        names = _FLAT_NAMES if spelling is Spelling.FLATS else _SHARP_NAMES
        return f"{names[self.midi % 12]}{self.midi // 12 - 1}"

    def hz(self, *, a4_hz: float = A4_HZ) -> float:
        """Return its frequency in hertz.

        Raises:
            PitchOutOfRange: A4 outside 430–446 Hz.
        """
        lowest, highest = A4_RANGE_HZ
        if not lowest <= a4_hz <= highest:
            raise PitchOutOfRange(what="A4 in Hz", value=a4_hz, lowest=lowest, highest=highest)
        return float(a4_hz * 2.0 ** ((self.midi - A4_MIDI) / 12))

    def transpose(self, semitones: int) -> Note:
        """Return the note this many semitones higher (or lower, if negative)."""
        return Note(self.midi + semitones)


def cents_between(*, from_hz: float, to_hz: float) -> float:
    """Return the interval from ``from_hz`` to ``to_hz`` in cents (negative downwards).

    Raises:
        PitchOutOfRange: a frequency that is not a positive, finite number.
    """
    for value in (from_hz, to_hz):
        if not (isfinite(value) and value > 0):
            raise PitchOutOfRange(what="frequency in Hz", value=value, lowest=0, highest=None)
    return 1200.0 * log2(to_hz / from_hz)


def note_nearest(hz: float, *, a4_hz: float = A4_HZ) -> tuple[Note, float]:
    """Return the nearest note to a frequency, and the frequency's deviation from it in cents.

    Raises:
        PitchOutOfRange: the frequency is not positive or the note is off the keyboard.
    """
    cents = cents_between(from_hz=Note(A4_MIDI).hz(a4_hz=a4_hz), to_hz=hz)
    steps = round(cents / 100)
    return Note(A4_MIDI + steps), cents - 100 * steps
