"""Hazards of a task for a client: its own, and those that follow from its settings."""

from __future__ import annotations

from reedcore.safety import LUNG_SHARE, Hazard
from reedcore.safety.cautions import (
    BACK_PRESSURE_FROM_CMH2O,
    CHILD_BREATH_HOLD_S,
    CHILD_CEILING_DB,
    MAXIMAL_SHARE,
    SHORT_TRIAL_S,
)

from .plan import CheckedItem, Person

#: A longer out-breath is a long one (convention).
LONG_BREATH_S = 8.0
#: A hold above this share of the best empties the lungs.
EMPTYING_SHARE = LUNG_SHARE
#: Vowels with a wide-open jaw.
OPEN_VOWELS = ("ah",)
#: A tube that may be glass, and one that is not.
HARD_TUBE, SOFT_TUBE = "tube", "tube_soft"
#: Report a note outside the comfortable range only beyond the accuracy of a sung note.
HIGH_SLACK_ST = 0.5


def hazards_of(item: CheckedItem, person: Person) -> frozenset[Hazard]:
    """Return the hazards that cautions are tested against.

    A task's own hazards say what it may do. Where it is known how far this prescription goes, that
    decides instead: how much of the best is asked for, how high above the comfortable range, how
    much back pressure, how long an out-breath. What is not known stays marked.
    """
    hazards = set(item.hazards)
    _settle(hazards, Hazard.EMPTIES_LUNGS, _empties(item))
    _settle(hazards, Hazard.LONG_BREATH, _is_long(item))
    _settle(hazards, Hazard.HIGH, _is_high(item, person))
    if item.pressure_cmh2o is not None:
        _settle(hazards, Hazard.BACK_PRESSURE, item.pressure_cmh2o > BACK_PRESSURE_FROM_CMH2O)
    _settle(hazards, Hazard.MAXIMAL_HOLD, _is_maximal(item))
    if item.is_loud:
        hazards.add(Hazard.LOUD)
        if item.ceiling_db is None or item.ceiling_db > CHILD_CEILING_DB:
            hazards.add(Hazard.MAXIMAL_LOUDNESS)
        if item.sound in OPEN_VOWELS:
            hazards.add(Hazard.WIDE_VOWEL)
    if item.breath is not None and item.breath.is_fast:
        hazards.add(Hazard.PANTING)
    if item.held_breath_s is not None and item.held_breath_s > CHILD_BREATH_HOLD_S:
        hazards.add(Hazard.LONG_BREATH_HOLD)
    if HARD_TUBE in item.props and SOFT_TUBE not in (person.props or ()):
        hazards.add(Hazard.GLASS)
    return frozenset(hazards)


def _settle(hazards: set[Hazard], hazard: Hazard, known: bool | None) -> None:
    if known is not None:
        (hazards.add if known else hazards.discard)(hazard)


def _empties(item: CheckedItem) -> bool | None:
    if item.all_the_air:
        return True
    breath_s = item.longest_breath_s
    if item.best_s is None or breath_s is None:
        return None
    return breath_s > EMPTYING_SHARE * item.best_s


def _is_maximal(item: CheckedItem) -> bool | None:
    """Return whether a voiced hold is maximal; without a known best, any longer than a short
    trial."""
    if not item.part.is_voiced:
        return None
    if item.all_the_air:
        return True
    if item.seconds is None or (item.glides and item.best_s is None):
        return None
    return item.seconds > (SHORT_TRIAL_S if item.best_s is None else MAXIMAL_SHARE * item.best_s)


def _is_long(item: CheckedItem) -> bool | None:
    if item.all_the_air:
        return True
    return None if item.longest_out_s is None else item.longest_out_s > LONG_BREATH_S


def _is_high(item: CheckedItem, person: Person) -> bool | None:
    if person.comfortable is None:
        # Healing vocal folds and an unknown range: the middle note at most.
        return _leaves_middle(item, person) if person.healing else None
    if not item.all_notes:
        return None
    highest = max(item.all_notes)
    comfortable = person.comfortable
    return highest.hz(a4_hz=person.a4_hz) > comfortable.high_hz * 2 ** (HIGH_SLACK_ST / 12)


def _leaves_middle(item: CheckedItem, person: Person) -> bool | None:
    notes = item.all_notes
    if not notes:
        return None
    one = len(set(notes)) == 1
    return not (one and person.middle is not None and notes[0] <= person.middle)
