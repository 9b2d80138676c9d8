"""The clinic's own reference table: the position of a figure in it, without a diagnosis."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum


@dataclass(frozen=True, slots=True)
class ReferenceRow:
    """Usual values of one measure by the clinic's reference table.

    Attributes:
        measure: its code.
        age_band, voice: whom it is for; None is everybody.
        low, high: usual from, usual up to; None is open.
        source: where the clinic has it from.
    """

    measure: str
    age_band: str | None
    voice: str | None
    low: float | None
    high: float | None
    source: str = ""


class AgainstReference(StrEnum):
    """The position of a figure relative to its reference row."""

    UNDER = "under"
    WITHIN = "within"
    OVER = "over"


#: Bands that a wider row covers, and bands that the general row does not fit.
WIDER_BAND = {"under-13": "under-18", "13-17": "under-18"}
CHILD_BANDS = ("under-13", "under-18")


def reference_for(
    rows: Iterable[ReferenceRow], *, measure: str, age_band: str | None, voice: str | None
) -> ReferenceRow | None:
    """Return the row that fits this person best, by age before voice; None if none does.

    A child is held against children's rows only.
    """
    wider = WIDER_BAND.get(age_band or "")
    bands = [age_band, wider, None]
    if age_band in CHILD_BANDS:
        bands.remove(None)
    fitting = [
        row
        for row in rows
        if row.measure == measure and row.age_band in bands and row.voice in (None, voice)
    ]
    return min(
        fitting, key=lambda row: (bands.index(row.age_band), row.voice is None), default=None
    )


def against_reference(value: float, row: ReferenceRow) -> AgainstReference:
    """Return whether a figure is below, within or above the range."""
    if row.low is not None and value < row.low:
        return AgainstReference.UNDER
    if row.high is not None and value > row.high:
        return AgainstReference.OVER
    return AgainstReference.WITHIN
