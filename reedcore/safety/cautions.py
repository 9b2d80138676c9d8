"""Cautions on a client's record, and the hazards of tasks that each of them forbids."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from types import MappingProxyType

from .hazards import Hazard


class Caution(StrEnum):
    """A caution on the record.

    All are asked at screening but CHILD, which follows from the client's age.
    """

    VOCAL_FOLD_SURGERY = "vocal_fold_surgery"
    PRESSURE_ACUTE = "pressure_acute"
    PRESSURE = "pressure"
    PREGNANCY = "pregnancy"
    LUNG_DISEASE = "lung_disease"
    BREATHING_ATTACKS = "breathing_attacks"
    AIRWAY = "airway"
    NECK_SURGERY = "neck_surgery"
    NECK_JAW = "neck_jaw"
    JAW_DISORDER = "jaw_disorder"
    BLOOD_THINNERS = "blood_thinners"
    ABDOMINAL = "abdominal"
    ASPIRATION = "aspiration"
    FAINTING = "fainting"
    FALLS = "falls"
    LYING = "lying"
    TREMOR = "tremor"
    LATEX = "latex"
    REFLUX = "reflux"
    INHALER = "inhaler"
    HEARING = "hearing"
    CHILD = "child"


class Strictness(StrEnum):
    """How strictly a caution forbids a hazard.

    STOP: only a written reason for that task overrules it. SAY_SO: a stop until a clinician who
    treats the client has allowed it, then a warning. AFTER_MEALS: a warning; not within two hours
    of a meal.
    """

    STOP = "stop"
    SAY_SO = "say_so"
    AFTER_MEALS = "after_meals"


#: Screening questions, one by one.
ASKED: tuple[Caution, ...] = tuple(each for each in Caution if each is not Caution.CHILD)


def _all_hazards(strictness: Strictness, *hazards: Hazard) -> dict[Hazard, Strictness]:
    return dict.fromkeys(hazards, strictness)


#: Strong voice needs more lung pressure than any straw, so it is included.
_PRESSURE_HAZARDS = (
    Hazard.BREATH_HOLD,
    Hazard.EMPTIES_LUNGS,
    Hazard.HARD_BLOW,
    Hazard.BACK_PRESSURE,
    Hazard.LOUD,
)
#: Hazards that each caution forbids. Cautions without hazards are advice only. Water in breaks and
#: aftercare is no task hazard: :func:`avoids_water` decides that.
FORBIDS: Mapping[Caution, Mapping[Hazard, Strictness]] = MappingProxyType(
    {
        Caution.VOCAL_FOLD_SURGERY: _all_hazards(
            Strictness.STOP,
            Hazard.LOUD,
            Hazard.HARD_ONSET,
            Hazard.SWELL,
            Hazard.MAXIMAL_HOLD,
            Hazard.HIGH,
        ),
        Caution.PRESSURE_ACUTE: _all_hazards(Strictness.STOP, *_PRESSURE_HAZARDS),
        Caution.PRESSURE: _all_hazards(Strictness.SAY_SO, *_PRESSURE_HAZARDS),
        Caution.PREGNANCY: _all_hazards(Strictness.SAY_SO, *_PRESSURE_HAZARDS),
        Caution.LUNG_DISEASE: _all_hazards(
            Strictness.STOP, Hazard.BREATH_HOLD, Hazard.EMPTIES_LUNGS, Hazard.PANTING
        ),
        Caution.BREATHING_ATTACKS: _all_hazards(
            Strictness.SAY_SO, Hazard.BREATH_HOLD, Hazard.PANTING, Hazard.LONG_BREATH
        ),
        Caution.AIRWAY: _all_hazards(Strictness.STOP, Hazard.UPPER_AIRWAY),
        Caution.NECK_SURGERY: {
            **_all_hazards(Strictness.STOP, Hazard.NECK),
            **_all_hazards(Strictness.SAY_SO, Hazard.LOUD, Hazard.HIGH),
        },
        Caution.NECK_JAW: _all_hazards(Strictness.SAY_SO, Hazard.NECK, Hazard.JAW),
        Caution.JAW_DISORDER: {
            **_all_hazards(Strictness.STOP, Hazard.WIDE_VOWEL),
            **_all_hazards(Strictness.SAY_SO, Hazard.JAW),
        },
        Caution.BLOOD_THINNERS: _all_hazards(
            Strictness.SAY_SO, Hazard.NECK, Hazard.JAW, Hazard.LOUD, Hazard.HIGH
        ),
        Caution.ABDOMINAL: _all_hazards(
            Strictness.SAY_SO, Hazard.HARD_BLOW, Hazard.EMPTIES_LUNGS, Hazard.LOUD
        ),
        Caution.ASPIRATION: _all_hazards(
            Strictness.STOP, Hazard.WATER, Hazard.SUCK, Hazard.LYING_FLAT
        ),
        Caution.FAINTING: _all_hazards(
            Strictness.STOP,
            Hazard.BREATH_HOLD,
            Hazard.PANTING,
            Hazard.HARD_BLOW,
            Hazard.LONG_BREATH,
            Hazard.STANDING,
        ),
        Caution.FALLS: _all_hazards(Strictness.STOP, Hazard.STANDING),
        Caution.LYING: _all_hazards(Strictness.STOP, Hazard.LYING_FLAT),
        Caution.TREMOR: _all_hazards(Strictness.STOP, Hazard.GLASS),
        Caution.LATEX: _all_hazards(Strictness.STOP, Hazard.LATEX),
        Caution.REFLUX: _all_hazards(Strictness.AFTER_MEALS, Hazard.LYING_FLAT, Hazard.HARD_BLOW),
        Caution.INHALER: {},
        Caution.HEARING: {},
        Caution.CHILD: _all_hazards(
            Strictness.STOP, Hazard.MAXIMAL_LOUDNESS, Hazard.LONG_BREATH_HOLD
        ),
    }
)
#: Cautions that the treating clinician can allow in part.
BY_SAY_SO: tuple[Caution, ...] = tuple(
    caution for caution in Caution if Strictness.SAY_SO in FORBIDS[caution].values()
)
#: Limit of the back pressure hazard, cmH₂O.
BACK_PRESSURE_FROM_CMH2O = 5.0
#: With lung disease: maximum share of the best for holds and hisses, and the rest, seconds.
LUNG_SHARE, LUNG_REST_S = 0.80, 15.0
#: Without a known best, a first trial up to this length is no risk, seconds (convention).
SHORT_TRIAL_S = 5.0
#: Above this share of the best, a hold is maximal for a healing vocal fold.
MAXIMAL_SHARE = 0.60
#: Limits for children: session, breath hold, and ceiling above the comfortable voice (conventions).
CHILD_SESSION_S, CHILD_BREATH_HOLD_S, CHILD_CEILING_DB = 600.0, 10.0, 10.0


@dataclass(frozen=True, slots=True)
class Forbidden:
    """A hazard that this client's tasks may not carry, and why.

    Attributes:
        is_allowed: a treating clinician has allowed it and the record says so: a warning.
        is_after_meals: only forbidden within two hours of a meal: a warning.
    """

    hazard: Hazard
    because: Caution
    is_allowed: bool = False
    is_after_meals: bool = False


def forbidden_hazards(
    cautions: Iterable[Caution],
    *,
    loud_from: date | None = None,
    said_so: Iterable[Caution] = (),
    on: date,
) -> tuple[Forbidden, ...]:
    """Return the hazards that are forbidden for this client on this day.

    Args:
        loud_from: the surgeon's recorded date from which everything is allowed again.
        said_so: the cautions for which a treating clinician's permission is on record.
    """
    allowed = frozenset(said_so)
    return tuple(
        Forbidden(
            hazard,
            caution,
            is_allowed=strictness is Strictness.SAY_SO and caution in allowed,
            is_after_meals=strictness is Strictness.AFTER_MEALS,
        )
        for caution in sorted(cautions)
        if not (caution is Caution.VOCAL_FOLD_SURGERY and loud_from is not None and on >= loud_from)
        for hazard, strictness in FORBIDS[caution].items()
    )


def avoids_water(cautions: Iterable[Caution]) -> bool:
    """Return whether breaks and aftercare go without water; the pause stays."""
    return Caution.ASPIRATION in frozenset(cautions)
