"""The figures of a series: baseline, best, last seven days, and their interpretation."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date

from reedcore.measures import kind_of
from reedcore.progress import BetterDirection, Course, MeasuredValue, baseline_days, course_of

from .history import WEEK
from .series import Series
from .values import TrialRecord

#: Larger differences since medication are different conditions.
SAME_HOURS = 1.0


@dataclass(frozen=True, slots=True)
class CourseLine:
    """The course of one figure; only the value has a trend.

    Attributes:
        code: value, error, spread, level or effort.
        unit: short; empty for effort.
        places: decimals that mean something.
        is_signed: the sign says something.
        has_best: there is such a thing as a best of it.
        since: the day from which on it can be compared; None where that is all of it.
    """

    code: str
    course: Course
    unit: str
    places: int
    is_signed: bool = False
    has_best: bool = True
    since: date | None = None


@dataclass(frozen=True, slots=True)
class Share:
    """Trials on target, of those that were judged."""

    met: int
    judged: int


def course_for(series: Series, trials: Sequence[TrialRecord], *, today: date) -> Course:
    """Return the course of the series' figure."""
    return _course(
        trials, today, series.figure.better, lambda trial: series.value_of(trial), with_trend=True
    )


def courses_of(
    series: Series,
    trials: Sequence[TrialRecord],
    efforts: Sequence[tuple[str, date, float]] = (),
    *,
    today: date,
) -> list[CourseLine]:
    """Return every figure of a series.

    Args:
        trials: all of it, oldest first, deliberate poor ones left out.
        efforts: (session, day, 1 to 10) as they were said after it.
    """
    value = course_for(series, trials, today=today)
    kind = kind_of(series.measure)
    found = [CourseLine("value", value, series.figure.short_unit, 1)]
    if series.note_midi is not None and kind.can_be_steady:
        error = _course(trials, today, BetterDirection.NEARER, lambda trial: trial.error_cents)
        found.append(CourseLine("error", error, "cents", 0, is_signed=True))
    if kind.can_be_steady:
        spread = _course(trials, today, BetterDirection.LOWER, lambda trial: trial.spread_cents)
        found.append(CourseLine("spread", spread, "cents", 0))
    if any(trial.level_db is not None for trial in trials):
        here = since_device_change(trials)
        level = _course(here, today, BetterDirection.HIGHER, lambda trial: trial.level_db)
        since = None if len(here) == len(trials) else here[0].on
        found.append(
            CourseLine(
                "level", level, "dB", 1, is_signed=True, has_best=series.is_loud, since=since
            )
        )
    if efforts:
        values = [MeasuredValue(day, session, value) for session, day, value in efforts]
        effort = course_of(values, today=today, better=BetterDirection.LOWER, with_trend=False)
        found.append(CourseLine("effort", effort, "", 0, has_best=not series.is_loud))
    return found


def share_at_first(trials: Sequence[TrialRecord]) -> Share:
    """Return the share on target in the days of the baseline."""
    first = set(baseline_days(list(dict.fromkeys(trial.on for trial in trials))))
    return _share([trial for trial in trials if trial.on in first])


def share_of_week(trials: Sequence[TrialRecord], today: date) -> Share:
    """Return the share on target in the last seven days."""
    return _share([trial for trial in trials if today - WEEK < trial.on <= today])


def _share(trials: Sequence[TrialRecord]) -> Share:
    judged = [trial for trial in trials if trial.outcome != "not_judged"]
    return Share(sum(trial.outcome == "met" for trial in judged), len(judged))


def since_device_change(trials: Sequence[TrialRecord]) -> Sequence[TrialRecord]:
    """Return the trials since the device last changed: level is not joined across it."""
    named = [trial for trial in trials if trial.device]
    if not named:
        return trials
    now = named[-1].device
    other = [place for place, trial in enumerate(trials) if trial.device not in ("", now)]
    return trials[other[-1] + 1 :] if other else trials


def mixed_hours(trials: Sequence[TrialRecord]) -> tuple[float, float] | None:
    """Return the least and the most hours since medication if they are different conditions; None
    if they are one, or unknown. Both are equal if some are unknown."""
    logged = [trial.since_medication_h for trial in trials if trial.since_medication_h is not None]
    if not logged:
        return None
    least, most = min(logged), max(logged)
    if most - least > SAME_HOURS:
        return least, most
    return (least, least) if len(logged) < len(trials) else None


def _course(
    trials: Sequence[TrialRecord],
    today: date,
    better: BetterDirection,
    figure: Callable[[TrialRecord], float | None],
    *,
    with_trend: bool = False,
) -> Course:
    measured = [
        MeasuredValue(trial.on, trial.session or trial.on, value)
        for trial in trials
        if (value := figure(trial)) is not None
    ]
    return course_of(measured, today=today, better=better, with_trend=with_trend)
