"""Maximum phonation time, and the quotients derived from it.

The longest of several trials, each on a separate full breath; their number is reported with it,
for practice and encouragement change the result.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite

from reedcore.errors import ValueOutOfRange

#: Trials wanted: three of the vowel, two each of /s/ and /z/.
VOWEL_TRIALS, S_TRIALS, Z_TRIALS = 3, 2, 2
#: Above this the larynx should be examined (J Speech Hear Disord 1981;46:147–149). A lower value
#: excludes nothing.
S_TO_Z_CAUTION = 1.4


@dataclass(frozen=True, slots=True)
class Longest:
    """The longest of some trials.

    Attributes:
        seconds: its length.
        which: its place among the trials, from 0.
        trials: how many there were.
        required_trials: how many there should be at least.
    """

    seconds: float
    which: int
    trials: int
    required_trials: int

    @property
    def enough(self) -> bool:
        """Return whether there were as many trials as the measure asks for."""
        return self.trials >= self.required_trials


def longest_of(seconds: Sequence[float], *, required_trials: int) -> Longest | None:
    """Return the longest trial; None if there is none.

    Raises:
        ValueOutOfRange: a length that is not a positive number.
    """
    for value in seconds:
        if not (isfinite(value) and value > 0):
            raise ValueOutOfRange(what="seconds", value=value, lowest=0, highest=None)
    if not seconds:
        return None
    which = max(range(len(seconds)), key=lambda at: seconds[at])
    return Longest(float(seconds[which]), which, len(seconds), required_trials)


@dataclass(frozen=True, slots=True)
class SToZRatio:
    """Longest /s/ ÷ longest /z/, and whether that is a reason to have the larynx looked at."""

    ratio: float
    is_cautioned: bool


def s_to_z_ratio(*, s: Longest | None, z: Longest | None) -> SToZRatio | None:
    """Return the ratio of two longest trials recorded separately, never of a joined pair; None
    without both."""
    if s is None or z is None:
        return None
    ratio = s.seconds / z.seconds
    return SToZRatio(ratio, ratio > S_TO_Z_CAUTION)


def phonation_quotient(*, vital_capacity_ml: float, longest_s: float) -> float:
    """Return vital capacity ÷ longest phonation, mL/s.

    Raises:
        ValueOutOfRange: a value that is not a positive number.
    """
    for what, value in (("vital capacity in mL", vital_capacity_ml), ("seconds", longest_s)):
        if not (isfinite(value) and value > 0):
            raise ValueOutOfRange(what=what, value=value, lowest=0, highest=None)
    return vital_capacity_ml / longest_s
