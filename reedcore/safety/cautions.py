"""Cautions on a client's record, and the marks of tasks that each of them forbids."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from enum import StrEnum


class Mark(StrEnum):
    """What a task does that a caution may test."""

    EMPTIES_LUNGS = "empties_lungs"
    HARD_BLOW = "hard_blow"
    BREATH_HOLD = "breath_hold"
    LONG_BREATH = "long_breath"
    LOUD = "loud"
    HIGH = "high"
    BACK_PRESSURE = "back_pressure"
    WATER = "water"
    SUCK = "suck"
    LYING_FLAT = "lying_flat"
    NECK = "neck"
    JAW = "jaw"
    LATEX = "latex"
    GLASS = "glass"


class Caution(StrEnum):
    """What is on record."""

    VOCAL_FOLD_SURGERY = "vocal_fold_surgery"
    PRESSURE = "pressure"
    LUNG_DISEASE = "lung_disease"
    ASPIRATION = "aspiration"
    FAINTING = "fainting"
    LYING = "lying"
    NECK_JAW = "neck_jaw"
    TREMOR = "tremor"
    LATEX = "latex"
    ACUTE_ILLNESS = "acute_illness"
    REFLUX = "reflux"
    INHALER = "inhaler"
    HEARING = "hearing"


_PRESSURE_MARKS = (Mark.EMPTIES_LUNGS, Mark.HARD_BLOW, Mark.BREATH_HOLD, Mark.BACK_PRESSURE)
#: What each forbids; those that forbid nothing are noted where they matter.
FORBIDS: dict[Caution, tuple[Mark, ...]] = {
    Caution.VOCAL_FOLD_SURGERY: (Mark.LOUD, Mark.HIGH),
    Caution.PRESSURE: _PRESSURE_MARKS,
    Caution.LUNG_DISEASE: (),
    Caution.ASPIRATION: (Mark.WATER, Mark.SUCK),
    Caution.FAINTING: (Mark.LONG_BREATH,),
    Caution.LYING: (Mark.LYING_FLAT,),
    Caution.NECK_JAW: (Mark.NECK, Mark.JAW),
    Caution.TREMOR: (Mark.GLASS,),
    Caution.LATEX: (Mark.LATEX,),
    Caution.ACUTE_ILLNESS: (Mark.LOUD,),
    Caution.REFLUX: (),
    Caution.INHALER: (),
    Caution.HEARING: (),
}
#: Back pressure over this is what the mark of that name is about, cmH₂O.
BACK_PRESSURE_FROM_CMH2O = 5.0


@dataclass(frozen=True, slots=True)
class Forbidden:
    """A mark that this client's tasks may not carry, and why."""

    mark: Mark
    because: Caution


def forbidden_marks(
    cautions: Iterable[Caution], *, loud_from: date | None = None, on: date
) -> tuple[Forbidden, ...]:
    """What no task of this client may do on that day.

    Args:
        loud_from: the surgeon's recorded date from which loud and high are allowed again.
    """
    return tuple(
        Forbidden(mark, caution)
        for caution in sorted(cautions)
        if not (caution is Caution.VOCAL_FOLD_SURGERY and loud_from is not None and on >= loud_from)
        for mark in FORBIDS[caution]
    )
