"""The figures of a series in words, for tables."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any

from django.utils.translation import gettext

from reedcore.history import TrialRecord
from reedcore.history.courses import (
    CourseLine,
    Share,
    courses_of,
    mixed_hours,
    share_at_first,
    share_of_week,
)
from reedcore.progress import Course
from reedcore.translation import translate
from web.ui.dates import short_day
from web.ui.marked import Words, gettext_noop

from .series import SeriesShown

NAMES = Words(
    {
        "error": gettext_noop("From the note"),
        "spread": gettext_noop("Pitch spread"),
        "level": gettext_noop("Level"),
        "effort": gettext_noop("Effort, of 10"),
    }
)


@dataclass(frozen=True)
class FigureLine:
    """A line of the table of figures: a course and the words for each column."""

    code: str
    name: str
    course: Course | None
    baseline: str
    best: str
    week: str
    change: str
    real: str


def lines_of(
    series: SeriesShown,
    trials: list[TrialRecord],
    efforts: list[tuple[str, date, float]],
    *,
    today: date,
    is_planned: bool = False,
) -> list[FigureLine]:
    """Return the table of a series.

    Args:
        trials: every trial of it, oldest first.
        efforts: (session, day, 1 to 10) as they were said after it.
        planned: it is for a report, which compares once; a page is looked at again and again.
    """
    found = []
    for line in courses_of(series, trials, efforts, today=today):
        if line.code == "effort":
            found.append(_share_line(trials, today))
        name = NAMES.get(line.code) or translate(series.figure.name).capitalize()
        found.append(_line(line, name, is_planned=is_planned))
    if not efforts:
        found.append(_share_line(trials, today))
    return found


def mixed_words(trials: list[TrialRecord]) -> str:
    """Return a warning that a trend mixes times since medication; empty if it does not."""
    found = mixed_hours(trials)
    if found is None:
        return ""
    least, most = found
    if most > least:
        return gettext("mixed times since medication, {least:g} to {most:g} h").format(
            least=least, most=most
        )
    return gettext("time since medication is not known for all trials")


def _line(line: CourseLine, name: str, *, is_planned: bool) -> FigureLine:
    def words(value: Any) -> Any:
        return "–" if value is None else plain(value, line.places, is_signed=line.is_signed)

    course = line.course
    found = course.planned if is_planned else course.change
    change = real = "–"
    if found is not None:
        change = plain(found.by, line.places, is_signed=True)
        if found.is_real and found.is_provisional:
            real = gettext("yes, limit {limit}, provisional")
        elif found.is_real:
            real = gettext("yes, limit {limit}")
        elif found.is_provisional:
            real = gettext("no, limit {limit}, provisional")
        else:
            real = gettext("no, limit {limit}")
        real = real.format(limit=plain(found.limit, line.places))
    if line.since is not None:
        name = gettext("{name}, on this device since {since}").format(
            name=name, since=short_day(line.since)
        )
    return FigureLine(
        code=line.code,
        name=f"{name}, {translate(line.unit)}" if line.unit else name,
        course=course,
        baseline=words(course.first_mean),
        best=words(course.best) if line.has_best else "–",
        week=words(course.week_mean),
        change=change,
        real=real,
    )


def _share_line(trials: list[TrialRecord], today: date) -> FigureLine:
    first, week = share_at_first(trials), share_of_week(trials, today)
    return FigureLine(
        "share", gettext("On target"), None, _share_words(first), "–", _share_words(week), "–", "–"
    )


def _share_words(share: Share) -> str:
    return (
        gettext("{met} of {judged}").format(met=share.met, judged=share.judged)
        if share.judged
        else "–"
    )


def plain(value: float, places: int, *, is_signed: bool = False) -> str:
    """Return a figure with a true minus, and its sign where that says something."""
    text = f"{abs(value):.{places}f}"
    zero = float(text) == 0.0
    sign = "" if zero else "−" if value < 0 else "+" if is_signed else ""
    return f"{sign}{text}"


def trend_words(course: Course | None, unit: str) -> str:
    """Return the weekly trend with its interval, or why there is none."""
    found = course.trend if course else None
    if found is None:
        return gettext("not yet: needs 6 sessions over 14 days")
    week, low, high = (7 * value for value in (found.per_day, found.low, found.high))
    return gettext("{plain} {unit} a week ({plain_2} to {plain_3})").format(
        plain=plain(week, 2, is_signed=True),
        unit=unit,
        plain_2=plain(low, 2),
        plain_3=plain(high, 2),
    )
