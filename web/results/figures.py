"""The figures of a series: where they began, the best, the last seven days, and what that means."""

from dataclasses import dataclass
from datetime import date, timedelta
from zoneinfo import ZoneInfo

from reedcore.progress import Better, Course, Measured, course_of
from web.practice.models import Trial

from .series import Row, Series
from .session_summaries import device_of, session_of

WEEK = timedelta(days=7)
#: Hours since medication that differ by more are not one condition.
SAME_HOURS = 1.0


@dataclass(frozen=True)
class Line:
    """One line of the table: its course, and the words for each column."""

    code: str
    name: str
    course: Course
    baseline: str
    best: str
    week: str
    change: str
    real: str


def course_for(series: Series, rows: list[Row], *, today: date, zone: ZoneInfo) -> Course:
    """The course of what the series is about."""
    return _course(
        rows, zone, today, series.figure.better, lambda row: series.figure.of(row, series.counts)
    )


def lines_of(
    series: Series, rows: list[Row], efforts: list[tuple[str, date, float]], *, today, zone
) -> list[Line]:
    """The table of a series.

    Args:
        rows: every trial of it, oldest first.
        efforts: (session, day, 1 to 10) as they were said after it.
    """
    unit = series.figure.short_unit
    found = [
        _line(
            "value",
            series.figure.name.capitalize(),
            course_for(series, rows, today=today, zone=zone),
            unit,
            1,
        )
    ]
    if series.note_midi is not None and series.measure == "hold":
        course = _course(rows, zone, today, Better.NEARER, lambda row: row.error_cents)
        found.append(_line("error", "From the note", course, "cents", 0, signed=True))
    if series.measure == "hold":
        course = _course(rows, zone, today, Better.LOWER, lambda row: row.spread_cents)
        found.append(_line("spread", "Pitch spread", course, "cents", 0))
    if any(row.level_db is not None for row in rows):
        here = same_device(rows)
        course = _course(here, zone, today, Better.HIGHER, lambda row: row.level_db)
        since = (
            ""
            if len(here) == len(rows)
            else f", on this device since {here[0].at.astimezone(zone):%-d %b}"
        )
        found.append(
            _line("level", f"Level{since}", course, "dB", 1, signed=True, best=series.loud)
        )
    found.append(_share(rows, zone, today))
    if efforts:
        said = [Measured(day, session, value) for session, day, value in efforts]
        course = course_of(said, today=today, better=Better.LOWER)
        found.append(_line("effort", "Effort, of 10", course, "", 0, best=not series.loud))
    return found


def same_device(rows: list[Row]) -> list[Row]:
    """The trials since the device last changed: level is not joined across it."""
    named = [row for row in rows if device_of(row)]
    if not named:
        return rows
    now = device_of(named[-1])
    other = [place for place, row in enumerate(rows) if device_of(row) not in ("", now)]
    return rows[other[-1] + 1 :] if other else rows


def mixed_hours(rows: list[Row]) -> str:
    """That a trend is over different times since medication; empty where it is not known to be."""
    logged = [row.since_medication_h for row in rows if row.since_medication_h is not None]
    if not logged:
        return ""
    if max(logged) - min(logged) > SAME_HOURS:
        return f"over mixed times since medication, {min(logged):g} to {max(logged):g} h"
    if len(logged) < len(rows):
        return "time since medication is not known for all of it"
    return ""


def _course(rows, zone, today, better, figure):
    measured = [
        Measured(row.at.astimezone(zone).date(), session_of(row, zone), value)
        for row in rows
        if (value := figure(row)) is not None
    ]
    return course_of(measured, today=today, better=better)


def _line(code, name, course, unit, places, *, signed=False, best=True):
    def words(value):
        return "–" if value is None else plain(value, places, signed=signed)

    change = real = "–"
    if course.change is not None:
        change = plain(course.change.by, places, signed=True)
        real = "yes" if course.change.is_real else "no"
        real += f", limit {plain(course.change.limit, places)}"
        if course.change.provisional:
            real += ", provisional"
    return Line(
        code=code,
        name=f"{name}, {unit}" if unit else name,
        course=course,
        baseline=words(course.first_mean),
        best=words(course.best) if best else "–",
        week=words(course.week_mean),
        change=change,
        real=real,
    )


def _share(rows, zone, today):
    judged = [row for row in rows if row.outcome != Trial.Outcome.NOT_JUDGED]
    week = [row for row in judged if today - WEEK < row.at.astimezone(zone).date() <= today]
    first = list(dict.fromkeys(session_of(row, zone) for row in rows))[:3]
    early = [row for row in judged if session_of(row, zone) in first]
    empty = course_of([], today=today, better=Better.HIGHER)
    return Line("share", "On target", empty, _of(early), "–", _of(week), "–", "–")


def _of(rows):
    if not rows:
        return "–"
    return f"{sum(row.outcome == Trial.Outcome.MET for row in rows)} of {len(rows)}"


def plain(value: float, places: int, *, signed: bool = False) -> str:
    """A figure with a true minus, and its sign where that says something."""
    text = f"{abs(value):.{places}f}"
    zero = float(text) == 0.0
    sign = "" if zero else "−" if value < 0 else "+" if signed else ""
    return f"{sign}{text}"


def trend_words(course: Course, unit: str) -> str:
    """The trend a week, with its interval; or why there is none."""
    found = course.trend
    if found is None:
        return "not yet: it takes six sessions over a fortnight"
    week, low, high = (7 * value for value in (found.per_day, found.low, found.high))
    return f"{plain(week, 2, signed=True)} {unit} a week ({plain(low, 2)} to {plain(high, 2)})"
