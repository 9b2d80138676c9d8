"""How one figure of a series has gone: where it began, its best, where it is now."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from statistics import fmean, median

from .trend import ChangeLimit, Point, Trend, change_limit, trend

#: The first sessions of a series stand for its baseline: nothing earlier was measured on its task.
BASELINE_SESSIONS = 3
WEEK = timedelta(days=7)


class Better(StrEnum):
    """Which way is better."""

    HIGHER = "higher"
    LOWER = "lower"
    NEARER = "nearer to zero"


@dataclass(frozen=True, slots=True)
class Measured:
    """One figure of one trial."""

    on: date
    session: str
    value: float


@dataclass(frozen=True, slots=True)
class Course:
    """What became of a figure; None is "cannot be said".

    Attributes:
        first_mean: mean of the first sessions' trials.
        baseline: their mean, spread and limit; None where no session had two trials.
        best: the best single trial.
        week_mean: mean of the trials of the last seven days.
        change: week_mean − baseline mean; None while the week is still part of the baseline.
        is_real: whether the change is more than chance.
        trend: Theil–Sen over the medians of the sessions.
        sessions: how many there are.
    """

    first_mean: float | None
    baseline: ChangeLimit | None
    best: float | None
    week_mean: float | None
    change: float | None
    is_real: bool | None
    trend: Trend | None
    sessions: int


def course_of(measured: Sequence[Measured], *, today: date, better: Better) -> Course:
    """The course of one figure of one series (MEASURES §5.10), trials in the order they were made.

    Deliberate poor trials, and what comes from another task, note, sound or, where it matters,
    device, must not be among them.
    """
    sessions: dict[str, list[Measured]] = defaultdict(list)
    for each in measured:
        sessions[each.session].append(each)
    occasions = [[each.value for each in trials] for trials in sessions.values()]
    baseline = change_limit(occasions[:BASELINE_SESSIONS])
    first = [each for session in list(sessions)[:BASELINE_SESSIONS] for each in sessions[session]]
    week = [each for each in measured if today - WEEK < each.on <= today]
    week_mean = fmean(each.value for each in week) if week else None
    change = is_real = None
    if baseline and week_mean is not None and len(sessions) > BASELINE_SESSIONS:
        change, is_real = week_mean - baseline.mean, baseline.is_real(week_mean)
    return Course(
        first_mean=fmean(each.value for each in first) if first else None,
        baseline=baseline,
        best=_best([each.value for each in measured], better),
        week_mean=week_mean,
        change=change,
        is_real=is_real,
        trend=trend(session_points(measured)),
        sessions=len(sessions),
    )


def session_points(measured: Sequence[Measured]) -> list[Point]:
    """One point a session: the median of its trials, on the day of the first of them."""
    sessions: dict[str, list[Measured]] = defaultdict(list)
    for each in measured:
        sessions[each.session].append(each)
    return [
        Point(trials[0].on, median(each.value for each in trials)) for trials in sessions.values()
    ]


def _best(values: Sequence[float], better: Better) -> float | None:
    if not values:
        return None
    if better is Better.HIGHER:
        return max(values)
    if better is Better.LOWER:
        return min(values)
    return min(values, key=abs)
