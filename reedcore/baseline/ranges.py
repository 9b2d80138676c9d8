"""Ranges of pitch, and the distance of the speaking pitch from the comfortable one.

A glide range, a held range and a comfortable range are three things; a value never says which it is
by itself, so store its name with it.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import log2

from reedcore.errors import PitchOutOfRange, ValueOutOfRange
from reedcore.pitch import Note

#: Pitch range of voices that the tracker can measure, Hz.
LOWEST_HZ, HIGHEST_HZ = 50.0, 1300.0


@dataclass(frozen=True, slots=True)
class PitchRange:
    """A range from a lowest to a highest pitch.

    Raises:
        PitchOutOfRange: a pitch outside 50–1300 Hz.
        ValueOutOfRange: a lowest above the highest.
    """

    low_hz: float
    high_hz: float

    def __post_init__(self) -> None:
        for value in (self.low_hz, self.high_hz):
            if not LOWEST_HZ <= value <= HIGHEST_HZ:
                raise PitchOutOfRange(
                    what="pitch in Hz", value=value, lowest=LOWEST_HZ, highest=HIGHEST_HZ
                )
        if self.low_hz > self.high_hz:
            raise ValueOutOfRange(
                what="lowest pitch in Hz", value=self.low_hz, lowest=None, highest=self.high_hz
            )

    @property
    def span_st(self) -> float:
        """Return the distance from lowest to highest, in semitones."""
        return 12.0 * log2(self.high_hz / self.low_hz)

    def includes(self, note: Note, *, a4_hz: float = 440.0, slack_st: float = 0.5) -> bool:
        """Return whether a note is inside, within ``slack_st`` semitones at each end."""
        hz, slack = note.hz(a4_hz=a4_hz), _ratio(slack_st)
        return self.low_hz / slack <= hz <= self.high_hz * slack

    def contains(self, other: PitchRange, *, slack_st: float = 0.5) -> bool:
        """Return whether another range is inside this one, within ``slack_st`` semitones."""
        slack = _ratio(slack_st)
        return self.low_hz / slack <= other.low_hz and other.high_hz <= self.high_hz * slack

    def union(self, other: PitchRange) -> PitchRange:
        """Return the outermost of both."""
        return PitchRange(min(self.low_hz, other.low_hz), max(self.high_hz, other.high_hz))


def _ratio(semitones: float) -> float:
    return float(2.0 ** (semitones / 12.0))


def speaking_difference_st(*, habitual_hz: float, easiest_hz: float) -> float:
    """Return habitual minus easiest speaking pitch, in semitones: negative if the speech is too
    low.

    Raises:
        PitchOutOfRange: a pitch outside 50–1300 Hz.
    """
    for value in (habitual_hz, easiest_hz):
        if not LOWEST_HZ <= value <= HIGHEST_HZ:
            raise PitchOutOfRange(
                what="pitch in Hz", value=value, lowest=LOWEST_HZ, highest=HIGHEST_HZ
            )
    return 12.0 * log2(habitual_hz / easiest_hz)
