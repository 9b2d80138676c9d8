"""The hold goal, its origin, and today's target rung.

A goal keeps its source, its inputs and its date, so that the decision can be explained later.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from math import isfinite

from reedcore.errors import ValueOutOfRange
from reedcore.ladders import HOLD_RUNGS_S, rung_at_or_under_s

#: Air flow of easy phonation with good closure, mL/s: for the goal, and for its first stage.
GOAL_ML_PER_S, STAGE_ML_PER_S = 80.0, 100.0
#: Maximum goal (convention).
GOAL_CAP_S = 45.0
#: Plausible lung volumes, mL.
VOLUME_RANGE_ML = (300.0, 9000.0)
#: The best is the longest hold of this many days.
BEST_DAYS = 14
#: Today's target is the rung at or below best + 10 %.
TODAY_ABOVE_BEST = 0.10


class GoalSource(StrEnum):
    """The measure that a goal was derived from."""

    PHONATION_VOLUME = "phonation_volume"
    #: An overestimate: phonation never uses the full vital capacity.
    VITAL_CAPACITY = "vital_capacity"
    LONGEST_S = "longest_s"


@dataclass(frozen=True, slots=True)
class HoldGoal:
    """A target length of a hold, with its source.

    Attributes:
        seconds: the goal.
        stage_s: a first stage on the way, which never completes the block; None without one.
        source: what it came from.
        inputs: (name with its unit, value) of everything that went in.
        on: the day it was worked out.
        is_capped: whether the formula gave more than the cap.
    """

    seconds: float
    stage_s: float | None
    source: GoalSource
    inputs: tuple[tuple[str, float], ...]
    on: date
    is_capped: bool = False


def goal_from_volume(volume_ml: float, *, source: GoalSource, on: date) -> HoldGoal:
    """Return V / 80 s, with V / 100 s as the first stage.

    Raises:
        ValueOutOfRange: a volume outside 300–9000 mL, or a source that is no volume.
    """
    lowest, highest = VOLUME_RANGE_ML
    if not (isfinite(volume_ml) and lowest <= volume_ml <= highest):
        raise ValueOutOfRange(what="volume in mL", value=volume_ml, lowest=lowest, highest=highest)
    if source not in (GoalSource.PHONATION_VOLUME, GoalSource.VITAL_CAPACITY):
        raise ValueOutOfRange(what="source", value=source.value, lowest=None, highest=None)
    goal, stage = volume_ml / GOAL_ML_PER_S, volume_ml / STAGE_ML_PER_S
    return HoldGoal(
        seconds=min(goal, GOAL_CAP_S),
        stage_s=min(stage, GOAL_CAP_S),
        source=source,
        inputs=(("volume_ml", volume_ml),),
        on=on,
        is_capped=goal > GOAL_CAP_S,
    )


def goal_from_s(longest_steady_s: float, *, on: date) -> HoldGoal:
    """Return the goal if no volume was measured: the longest steady /s/."""
    return _plain(longest_steady_s, GoalSource.LONGEST_S, "longest_s_s", on)


def _plain(seconds: float, source: GoalSource, name: str, on: date) -> HoldGoal:
    if not (isfinite(seconds) and seconds > 0):
        raise ValueOutOfRange(what="seconds", value=seconds, lowest=0, highest=None)
    return HoldGoal(
        min(seconds, GOAL_CAP_S), None, source, ((name, seconds),), on, seconds > GOAL_CAP_S
    )


def best_hold_s(holds: Iterable[tuple[date, float]], *, on: date) -> float | None:
    """Return the longest (day, seconds) of the 14 days up to ``on``; None without any."""
    first = on - timedelta(days=BEST_DAYS - 1)
    return max((seconds for day, seconds in holds if first <= day <= on), default=None)


def todays_target_s(
    *, best_s: float, goal_s: float, rungs: Sequence[float] = HOLD_RUNGS_S
) -> float:
    """Return the rung at or under best + 10 %, and never beyond the goal."""
    return rung_at_or_under_s(min(best_s * (1 + TODAY_ABOVE_BEST), goal_s), rungs)
