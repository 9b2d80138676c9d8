"""What a first appointment measures, and what is worked out from it."""

from .goals import GoalSource, HoldGoal, best_hold_s, goal_from_s, goal_from_volume, goal_set
from .phonation import Longest, SToZRatio, longest_of, phonation_quotient, s_to_z_ratio
from .plausible import LIMITS, Limits, Plausibility, plausibility
from .ranges import PitchRange, speaking_difference_st
from .reference import ReferenceRow, Standing, reference_for, standing

__all__ = [
    "LIMITS",
    "GoalSource",
    "HoldGoal",
    "Limits",
    "Longest",
    "PitchRange",
    "Plausibility",
    "ReferenceRow",
    "SToZRatio",
    "Standing",
    "best_hold_s",
    "goal_from_s",
    "goal_from_volume",
    "goal_set",
    "longest_of",
    "phonation_quotient",
    "plausibility",
    "reference_for",
    "s_to_z_ratio",
    "speaking_difference_st",
    "standing",
]
