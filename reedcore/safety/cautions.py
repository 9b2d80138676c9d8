"""Cautions on a client's record, and the hazards of tasks that each of them forbids."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from enum import StrEnum


class Hazard(StrEnum):
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
    PANTING = "panting"


class Caution(StrEnum):
    """What is on record."""

    VOCAL_FOLD_SURGERY = "vocal_fold_surgery"
    PRESSURE_ACUTE = "pressure_acute"
    PRESSURE = "pressure"
    LUNG_DISEASE = "lung_disease"
    ASPIRATION = "aspiration"
    FAINTING = "fainting"
    LYING = "lying"
    NECK_JAW = "neck_jaw"
    TREMOR = "tremor"
    LATEX = "latex"
    REFLUX = "reflux"
    INHALER = "inhaler"
    HEARING = "hearing"


_PRESSURE_HAZARDS = (
    Hazard.BREATH_HOLD,
    Hazard.EMPTIES_LUNGS,
    Hazard.HARD_BLOW,
    Hazard.BACK_PRESSURE,
)
#: What each forbids; those that forbid nothing are noted where they matter. Water in the pauses
#: and in the aftercare is no task's hazard: :func:`without_water` says who goes without.
FORBIDS: dict[Caution, tuple[Hazard, ...]] = {
    Caution.VOCAL_FOLD_SURGERY: (Hazard.LOUD, Hazard.HIGH),
    Caution.PRESSURE_ACUTE: _PRESSURE_HAZARDS,
    Caution.PRESSURE: _PRESSURE_HAZARDS,
    Caution.LUNG_DISEASE: (Hazard.BREATH_HOLD, Hazard.EMPTIES_LUNGS),
    Caution.ASPIRATION: (Hazard.WATER, Hazard.SUCK),
    Caution.FAINTING: (Hazard.BREATH_HOLD, Hazard.PANTING, Hazard.HARD_BLOW, Hazard.LONG_BREATH),
    Caution.LYING: (Hazard.LYING_FLAT,),
    Caution.NECK_JAW: (Hazard.NECK, Hazard.JAW),
    Caution.TREMOR: (Hazard.GLASS,),
    Caution.LATEX: (Hazard.LATEX,),
    Caution.REFLUX: (),
    Caution.INHALER: (),
    Caution.HEARING: (),
}
#: Those that somebody who knows may allow, in so many words; without that they stop.
BY_SAY_SO = (Caution.PRESSURE, Caution.NECK_JAW)
#: Back pressure over this is what the hazard of that name is about, cmH₂O.
BACK_PRESSURE_FROM_CMH2O = 5.0
#: With lung disease: holds and hisses at most so much of the best, and rests of so many seconds.
LUNG_SHARE, LUNG_REST_S = 0.80, 15.0


@dataclass(frozen=True, slots=True)
class Forbidden:
    """A hazard that this client's tasks may not carry, and why.

    Attributes:
        allowed: somebody who knows has allowed it, and that stands in the record: a warning.
    """

    hazard: Hazard
    because: Caution
    allowed: bool = False


def forbidden_hazards(
    cautions: Iterable[Caution],
    *,
    loud_from: date | None = None,
    said_so: Iterable[Caution] = (),
    on: date,
) -> tuple[Forbidden, ...]:
    """What no task of this client may do on that day.

    Args:
        loud_from: the surgeon's recorded date from which loud and high are allowed again.
        said_so: the cautions that somebody who knows has allowed, as the record says.
    """
    allowed = frozenset(said_so) & frozenset(BY_SAY_SO)
    return tuple(
        Forbidden(hazard, caution, allowed=caution in allowed)
        for caution in sorted(cautions)
        if not (caution is Caution.VOCAL_FOLD_SURGERY and loud_from is not None and on >= loud_from)
        for hazard in FORBIDS[caution]
    )


def without_water(cautions: Iterable[Caution]) -> bool:
    """Whether the breaks and the aftercare go without water: the pause stays."""
    return Caution.ASPIRATION in frozenset(cautions)
