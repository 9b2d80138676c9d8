"""Two months, two sessions or two sheets side by side."""

from __future__ import annotations

from calendar import monthrange
from collections import defaultdict
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date
from statistics import fmean, median
from typing import TYPE_CHECKING, Any
from zoneinfo import ZoneInfo

from django.utils.translation import gettext

from reedcore.history import TrialRecord as PastTrial
from reedcore.history.series import SessionSummary, summaries_of
from reedcore.measures import kind_of
from reedcore.progress import change_of
from reedcore.translation import translate
from web.baseline.models import Baseline
from web.record.models import Trial
from web.ui.dates import full_day, long_week_day, month_of_year, week_day_of_year

from . import figures
from .history_chart import ChartedSession, HistoryChart, chart_of
from .series import SeriesShown
from .trial_detail import TrialDetail, trial_detail

if TYPE_CHECKING:
    from reedcore.progress.trend import MeanChange
    from web.clients.models import Client

MONTH, SESSION, SHEET = "month", "session", "sheet"
#: Half of the page width.
HALF = 590
BED_HEIGHT, BELOW = 230, 28


@dataclass(frozen=True)
class Side:
    """One side of a comparison: its name and its figures."""

    name: str
    rows: tuple[PastTrial, ...]
    chart: HistoryChart | None = None
    close: TrialDetail | None = None


@dataclass(frozen=True)
class ComparisonLine:
    """A figure of both, and how they differ."""

    name: str
    one: str
    other: str
    difference: str
    words: str = ""


def choices(
    kind: str, summaries: list[SessionSummary], sheets: list[Baseline], zone: ZoneInfo, *, unit: str
) -> list[tuple[str, str]]:
    """Return the choices, oldest first: (code, name)."""
    if kind == SHEET:
        return [
            (
                str(sheet.pk),
                gettext("sheet of {astimezone}").format(
                    astimezone=full_day(sheet.begun_at.astimezone(zone))
                ),
            )
            for sheet in sheets
        ]
    if kind == SESSION:
        return [
            (str(each.shown.key), f"{week_day_of_year(each.on)}, {each.value:.1f} {unit}")
            for each in summaries
            if each.value is not None
        ]
    months = dict.fromkeys(each.on.replace(day=1) for each in summaries)
    return [(f"{month:%Y-%m}", month_of_year(month)) for month in months]


def side_of(
    kind: str,
    code: str,
    series: SeriesShown,
    rows: list[PastTrial],
    client: Client,
    *,
    course: Any,
    top_value: float,
) -> Side | None:
    """Return one side; None if it does not exist."""
    if kind == SESSION:
        for summary in summaries_of(series, rows):
            for row in summary.rows:
                if str(row.key) == code:
                    trial = Trial.objects.select_related("task__programme", "trace").get(pk=row.key)
                    trial.task.programme.client = client
                    return Side(long_week_day(summary.on), summary.rows, close=trial_detail(trial))
        return None
    try:
        first = date.fromisoformat(f"{code}-01")
    except ValueError:
        return None
    last = first.replace(day=monthrange(first.year, first.month)[1])
    within = tuple(row for row in rows if first <= row.on <= last)
    summaries = summaries_of(series, within)
    shown = ChartedSession(
        first=first, last=last, figure=series.figure, course=replace(course, trend=None),
        right=HALF,
        below=BELOW, top_value=top_value,
    )  # fmt: skip
    name = month_of_year(first)
    return Side(name, within, chart=chart_of(summaries, shown, title=name, height=BED_HEIGHT))


def lines_of(
    series: SeriesShown, one: Side, other: Side, *, baseline: Any, efforts: Any
) -> list[ComparisonLine]:
    """Return the figures of both sides.

    Args:
        baseline: of the series' first days; None where it is not known.
        efforts: (mean effort before, after), each None if not reported.
    """
    unit = f" {translate(series.figure.unit)}"

    def values(side: Any) -> Any:
        found = (series.value_of(row) for row in side.rows)
        return [value for value in found if value is not None]

    a, b = values(one), values(other)
    found = [ComparisonLine(gettext("Trials"), str(len(one.rows)), str(len(other.rows)), "")]
    for name, of in (
        (gettext("{figure}, median"), median),
        (gettext("{figure}, longest"), max),
        (gettext("{figure}, mean"), fmean),
    ):
        figure = translate(series.figure.name).capitalize()
        line = _line(name.format(figure=figure), of, a, b, unit, 1)
        if of is fmean and (change := _change(series, one, other, baseline)):
            line = replace(line, words=_chance(change, unit))
        found.append(line)
    found.append(ComparisonLine(gettext("On target"), _share(one.rows), _share(other.rows), ""))
    cents = f" {gettext('cents')}"
    if kind_of(series.measure).can_be_steady:
        if series.note_midi is not None:
            a, b = (_known_values(side.rows, "error_cents") for side in (one, other))
            found.append(_line(gettext("From the note"), median, a, b, cents, 0, is_signed=True))
        a, b = (_known_values(side.rows, "spread_cents") for side in (one, other))
        found.append(_line(gettext("Pitch spread"), median, a, b, cents, 0))
    a, b = (_known_values(side.rows, "level_db") for side in (one, other))
    if a or b:
        level = _line(gettext("Level"), median, a, b, " dB", 1, is_signed=True)
        devices = {row.device for side in (one, other) for row in side.rows} - {""}
        if len(devices) > 1:
            level = replace(
                level, difference="–", words=gettext("not compared: different recording devices")
            )
        found.append(level)
    if any(value is not None for value in efforts):
        a, b = ([] if value is None else [value] for value in efforts)
        found.append(_line(gettext("Effort, of 10"), fmean, a, b, "", 1))
    hours = figures.mixed_words([*one.rows, *other.rows])
    if hours:
        found.append(ComparisonLine(gettext("Medication"), "", "", "", hours))
    return found


def _chance(change: MeanChange, unit: str) -> str:
    """Return whether a difference is more than chance, and from which limit on it would be."""
    if change.is_real and change.is_provisional:
        words = gettext("more than chance (limit {limit:.1f}{unit}, provisional)")
    elif change.is_real:
        words = gettext("more than chance (limit {limit:.1f}{unit})")
    elif change.is_provisional:
        words = gettext("not more than chance (limit {limit:.1f}{unit}, provisional)")
    else:
        words = gettext("not more than chance (limit {limit:.1f}{unit})")
    return words.format(limit=change.limit, unit=unit)


def _change(series: SeriesShown, one: Side, other: Side, baseline: Any) -> MeanChange | None:
    """Return the other side's days against the one side's, with the spreads of the first days."""
    if baseline is None:
        return None
    then, now = (list(_values_by_day(series, side).values()) for side in (one, other))
    return change_of(baseline, now, since=then)


def _values_by_day(series: SeriesShown, side: Side) -> Any:
    found = defaultdict(list)
    for row in side.rows:
        if (value := series.value_of(row)) is not None:
            found[row.on].append(value)
    return found


def _line(
    name: str,
    of: Callable[..., Any],
    a: Any,
    b: Any,
    unit: str,
    places: int,
    *,
    is_signed: bool = False,
) -> ComparisonLine:
    def words(values: Any) -> Any:
        return f"{figures.plain(of(values), places, is_signed=is_signed)}{unit}" if values else "–"

    if not (a and b):
        return ComparisonLine(name, words(a), words(b), "–")
    # The difference of the figures as shown, so that the line adds up.
    shown = round(of(b), places) - round(of(a), places)
    difference = f"{figures.plain(shown, places, is_signed=True)}{unit}"
    return ComparisonLine(name, words(a), words(b), difference)


def _known_values(rows: tuple[Any, ...], name: str) -> list[Any]:
    return [value for row in rows if (value := getattr(row, name)) is not None]


def _share(rows: tuple[Any, ...]) -> str:
    judged = [row for row in rows if row.outcome != Trial.Outcome.NOT_JUDGED]
    if not judged:
        return gettext("not judged")
    return gettext("{words} of {judged}").format(
        words=sum(row.outcome == Trial.Outcome.MET for row in judged), judged=len(judged)
    )
