"""Plausibility of typed figures: impossible ones are refused, unusual ones confirmed.

The limits are conventions about typing slips, not about health: wide enough that no true
measurement is refused.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from math import isfinite

from reedcore.errors import ValueOutOfRange


class Plausibility(StrEnum):
    """How to treat a typed figure."""

    USUAL = "usual"
    ODD = "odd"
    IMPOSSIBLE = "impossible"


@dataclass(frozen=True, slots=True)
class Limits:
    """Possible limits and usual limits of a figure."""

    unit: str
    lowest: float
    highest: float
    usual_from: float
    usual_to: float


LIMITS: dict[str, Limits] = {
    "hold_s": Limits("s", 0.3, 120.0, 2.0, 45.0),
    "volume_ml": Limits("mL", 300.0, 9000.0, 1000.0, 6500.0),
    "pitch_hz": Limits("Hz", 50.0, 1300.0, 70.0, 1050.0),
    "level_db_spl": Limits("dB SPL", 30.0, 130.0, 45.0, 105.0),
    "distance_m": Limits("m", 0.02, 5.0, 0.1, 1.0),
    "effort": Limits("of 10", 0.0, 10.0, 0.0, 10.0),
    "rating": Limits("of 3", 0.0, 3.0, 0.0, 3.0),
    "questionnaire": Limits("points", 0.0, 200.0, 0.0, 160.0),
}


def plausibility(measure: str, value: float) -> Plausibility:
    """Return whether a figure is usual, odd or impossible.

    Raises:
        ValueOutOfRange: a measure without limits.
    """
    limits = LIMITS.get(measure)
    if limits is None:
        raise ValueOutOfRange(what="measure", value=measure, lowest=None, highest=None)
    if not (isfinite(value) and limits.lowest <= value <= limits.highest):
        return Plausibility.IMPOSSIBLE
    usual = limits.usual_from <= value <= limits.usual_to
    return Plausibility.USUAL if usual else Plausibility.ODD
