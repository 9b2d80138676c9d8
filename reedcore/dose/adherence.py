"""Adherence: the share of due practice that was done."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum


class Outcome(StrEnum):
    """The outcome of one due session."""

    DONE = "done"
    SHORT = "short"
    PARTIAL = "partial"
    MISSED = "missed"
    EXCUSED = "excused"


@dataclass(frozen=True, slots=True)
class SlotAdherence:
    """A past due session with its outcome.

    Attributes:
        fraction: how much of a partial one was done, 0 to 1.
    """

    outcome: Outcome
    fraction: float = 0.0


def adherence(slots: Iterable[SlotAdherence]) -> float | None:
    """Return (done + short + the fractions of partial ones) ÷ (past − excused), 0 to 1.

    None if nothing was due: adherence is then undefined, not 100 %.
    """
    due = [slot for slot in slots if slot.outcome is not Outcome.EXCUSED]
    if not due:
        return None
    whole = sum(slot.outcome in (Outcome.DONE, Outcome.SHORT) for slot in due)
    part = sum(min(1.0, max(0.0, slot.fraction)) for slot in due if slot.outcome is Outcome.PARTIAL)
    return (whole + part) / len(due)


def dose_received(tries: Iterable[tuple[float, float]], *, prescribed_s: float) -> float | None:
    """Return Σ min(voiced, target) ÷ prescribed seconds of voice, over tries within their band.

    Args:
        tries: (voiced seconds, target seconds) of each.
    """
    if prescribed_s <= 0:
        return None
    return sum(min(voiced, target) for voiced, target in tries) / prescribed_s
