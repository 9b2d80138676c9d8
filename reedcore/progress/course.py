"""The course of one figure: its first value, best and current value."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from statistics import fmean, median

from .trend import MeanChange, Point, Trend, TrendBaseline, baseline_of, change_of, trend

WEEK = timedelta(days=7)
#: In the first week a task is new: low values reflect lack of practice and are no baseline.
SETTLING = WEEK
#: The baseline is the practised days of the following fortnight; if fewer, this many days.
BASELINE, LEAST_BASELINE_DAYS = timedelta(days=14), 5


class BetterDirection(StrEnum):
    """Which way is better."""

    HIGHER = "higher"
    LOWER = "lower"
    NEARER = "nearer to zero"


@dataclass(frozen=True, slots=True)
class MeasuredValue:
    """One figure of one trial."""

    on: date
    session: Hashable
    value: float


@dataclass(frozen=True, slots=True)
class Course:
    """The course of a figure; None if unknown.

    Attributes:
        first_mean: mean of the means of the baseline's days; while a series is in its first week,
            of those.
        baseline: those days with their spreads; None where nothing was measured twice.
        best: the best single trial.
        week_mean: mean of the days' means of the last seven days.
        change: week_mean against the baseline, as it is looked at each week; None until a whole
            week lies after the baseline.
        planned: the same as one planned comparison, for a report.
        trend: Theil–Sen over the medians of the sessions; None too where it was not asked for.
        sessions: how many there are.
    """

    first_mean: float | None
    baseline: TrendBaseline | None
    best: float | None
    week_mean: float | None
    change: MeanChange | None
    planned: MeanChange | None
    trend: Trend | None
    sessions: int


def course_of(
    measured: Sequence[MeasuredValue],
    *,
    today: date,
    better: BetterDirection,
    with_trend: bool = True,
) -> Course:
    """Return the course of one figure of one series (MEASURES §5.10), trials in the order they were
    made.

    Deliberate poor trials, and what comes from another task, note, sound or, where it matters,
    device, must not be among them.
    """
    days = values_by_day(measured)
    begun = baseline_days(list(days))
    first = [days[day] for day in begun]
    week = [values for day, values in days.items() if today - WEEK < day <= today]
    baseline = baseline_of(first)
    change = planned = None
    if baseline and week and today - WEEK >= max(begun):
        change = change_of(baseline, week, is_monitored=True)
        planned = change_of(baseline, week)
    return Course(
        first_mean=_mean_of_days(first),
        baseline=baseline,
        best=_best([each.value for each in measured], better),
        week_mean=_mean_of_days(week),
        change=change,
        planned=planned,
        trend=trend(session_points(measured)) if with_trend else None,
        sessions=len({each.session for each in measured}),
    )


def baseline_days(days: Sequence[date]) -> list[date]:
    """Return the practised days of a series that form its baseline.

    Args:
        days: all of them, the oldest first.

    Returns:
        Those of the fortnight after the first week, five at least; while there is none after the
        first week, all.
    """
    if not days:
        return []
    settled = [day for day in days if day >= days[0] + SETTLING]
    if not settled:
        return list(days)
    of_fortnight = [day for day in settled if day < days[0] + SETTLING + BASELINE]
    return settled[: max(len(of_fortnight), LEAST_BASELINE_DAYS)]


def values_by_day(measured: Sequence[MeasuredValue]) -> dict[date, list[float]]:
    """Return the values of each practised day, the oldest first."""
    days: dict[date, list[float]] = defaultdict(list)
    for each in sorted(measured, key=lambda one: one.on):
        days[each.on].append(each.value)
    return dict(days)


def _mean_of_days(days: Sequence[Sequence[float]]) -> float | None:
    return fmean(fmean(values) for values in days) if days else None


def session_points(measured: Sequence[MeasuredValue]) -> list[Point]:
    """Return one point a session: the median of its trials, on the day of the first of them."""
    sessions: dict[Hashable, list[MeasuredValue]] = defaultdict(list)
    for each in measured:
        sessions[each.session].append(each)
    return [
        Point(trials[0].on, median(each.value for each in trials)) for trials in sessions.values()
    ]


def _best(values: Sequence[float], better: BetterDirection) -> float | None:
    if not values:
        return None
    if better is BetterDirection.HIGHER:
        return max(values)
    if better is BetterDirection.LOWER:
        return min(values)
    return min(values, key=abs)
