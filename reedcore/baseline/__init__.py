"""Measures of a first appointment, and values derived from them."""

from .goals import GoalSource, HoldGoal, best_hold_s, goal_from_s, goal_from_volume
from .phonation import Longest, SToZRatio, longest_of, phonation_quotient, s_to_z_ratio
from .plausible import LIMITS, Limits, Plausibility, plausibility
from .ranges import PitchRange, speaking_difference_st
from .reference import AgainstReference, ReferenceRow, against_reference, reference_for

__all__ = [
    "LIMITS",
    "AgainstReference",
    "GoalSource",
    "HoldGoal",
    "Limits",
    "Longest",
    "PitchRange",
    "Plausibility",
    "ReferenceRow",
    "SToZRatio",
    "against_reference",
    "best_hold_s",
    "goal_from_s",
    "goal_from_volume",
    "longest_of",
    "phonation_quotient",
    "plausibility",
    "reference_for",
    "s_to_z_ratio",
    "speaking_difference_st",
]
