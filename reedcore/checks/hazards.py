"""What a task does to this person: its own hazards, and those that follow from what is asked."""

from __future__ import annotations

from reedcore.safety.cautions import BACK_PRESSURE_FROM_CMH2O, LUNG_SHARE, Hazard

from .plan import Item, Person

#: An out-breath longer than this is a long one (convention).
LONG_BREATH_S = 8.0
#: Over this share of the best a hold empties the lungs.
EMPTYING_SHARE = LUNG_SHARE
#: A tube that may be of glass, and the one that is not.
HARD_TUBE, SOFT_TUBE = "tube", "tube_soft"
#: What is told apart from the comfortable range only past the accuracy of a sung note.
HIGH_SLACK_ST = 0.5


def hazards_of(item: Item, person: Person) -> frozenset[Hazard]:
    """The hazards that cautions are tested against.

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
    if item.is_loud:
        hazards.add(Hazard.LOUD)
    if HARD_TUBE in item.props and SOFT_TUBE not in (person.props or ()):
        hazards.add(Hazard.GLASS)
    return frozenset(hazards)


def _settle(hazards: set[Hazard], hazard: Hazard, known: bool | None) -> None:
    if known is not None:
        (hazards.add if known else hazards.discard)(hazard)


def _empties(item: Item) -> bool | None:
    if item.all_the_air:
        return True
    if item.best_s is None or item.seconds is None:
        return None
    return item.seconds > EMPTYING_SHARE * item.best_s


def _is_long(item: Item) -> bool | None:
    if item.all_the_air:
        return True
    return None if item.out_s is None else item.out_s > LONG_BREATH_S


def _is_high(item: Item, person: Person) -> bool | None:
    if person.comfortable is None or not item.all_notes:
        return None
    highest = max(item.all_notes)
    comfortable = person.comfortable
    return highest.hz(a4_hz=person.a4_hz) > comfortable.high_hz * 2 ** (HIGH_SLACK_ST / 12)
