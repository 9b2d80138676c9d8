"""Rungs of seconds: targets of a hold or a hiss from one step to the next."""

from __future__ import annotations

from collections.abc import Sequence

from reedcore.errors import ValueOutOfRange

#: Held voice: steps of half a second below 5 s, where a second is a large step.
HOLD_RUNGS_S: tuple[float, ...] = (
    *(0.5 * step for step in range(1, 10)),
    *(5.0, 6.0, 7.0, 8.0, 9.0, 10.0, 12.0, 14.0, 16.0, 18.0, 20.0, 23.0, 26.0, 30.0, 35.0),
    *(40.0, 45.0),
)
#: Hiss: steps of five seconds, open-ended after the last.
HISS_RUNGS_S: tuple[float, ...] = tuple(float(seconds) for seconds in range(10, 61, 5))
#: Growth of personal rungs, rounded to half a second.
PERSONAL_STEP, PERSONAL_ROUND_S = 0.10, 0.5
#: Rounding tolerance: a rung missed by less counts as reached.
_CLOSE_S = 1e-9


def rung_at_or_under_s(seconds: float, rungs: Sequence[float] = HOLD_RUNGS_S) -> float:
    """Return the highest rung at or below the seconds; the lowest rung if all are above.

    Raises:
        ValueOutOfRange: not a positive number.
    """
    if not seconds > 0:
        raise ValueOutOfRange(what="seconds", value=seconds, lowest=0, highest=None)
    under = [rung for rung in rungs if rung <= seconds + _CLOSE_S]
    return max(under, default=min(rungs))


def rung_above_s(seconds: float, rungs: Sequence[float] = HOLD_RUNGS_S) -> float | None:
    """Return the next rung up; None at the top."""
    return min((rung for rung in rungs if rung > seconds + _CLOSE_S), default=None)


def rung_below_s(seconds: float, rungs: Sequence[float] = HOLD_RUNGS_S) -> float | None:
    """Return the next rung down; None at the bottom."""
    return max((rung for rung in rungs if rung < seconds - _CLOSE_S), default=None)


def personal_rungs_s(*, best_s: float, goal_s: float) -> tuple[float, ...]:
    """Return rungs from a client's best to the goal in steps of 10 %, at least half a second each.

    The first is the best itself, rounded down to half a second; the last is the goal.

    Raises:
        ValueOutOfRange: a best that is not positive.
    """
    if not best_s > 0:
        raise ValueOutOfRange(what="best seconds", value=best_s, lowest=0, highest=None)
    at = max(PERSONAL_ROUND_S, PERSONAL_ROUND_S * (best_s // PERSONAL_ROUND_S))
    rungs = [at]
    while at < goal_s:
        grown = PERSONAL_ROUND_S * round(at * (1 + PERSONAL_STEP) / PERSONAL_ROUND_S)
        at = min(goal_s, max(at + PERSONAL_ROUND_S, grown))
        rungs.append(at)
    return tuple(rungs)
