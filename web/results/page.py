"""The results page of one series; its number of queries is fixed."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, replace
from datetime import date, timedelta
from statistics import fmean
from typing import TYPE_CHECKING, Any
from urllib.parse import urlencode
from uuid import UUID
from zoneinfo import ZoneInfo

from django.utils.safestring import SafeString
from django.utils.translation import gettext

from reedcore.history import TrialRecord as PastTrial
from reedcore.history.courses import course_for
from reedcore.history.series import SessionSummary, session_of, summaries_of, week_of
from web.record.columns import FOLLOWED
from web.record.models import SelfReport, Trial
from web.ui.dates import short_day, week_day
from web.ui.marked import Words, gettext_noop

from . import figures
from .annotations import place_labels, practised_since, surroundings_of
from .history_chart import ChartedSession, HistoryChart, chart_of
from .series import SeriesShown, series_of, trials_of
from .session_table import session_rows
from .trial_detail import TrialDetail, trial_detail

if TYPE_CHECKING:
    from web.clients.models import Client

SESSIONS, WEEKS, NOTES = "session", "week", "note"
#: Period of one chart by grouping, and its minimum length.
SPANS = {SESSIONS: 84, NOTES: 84, WEEKS: 728}
LEAST_SPAN = 14
NOTE_HEIGHT = 190
ARROWS = Words(
    {
        "left": gettext_noop("previous session"),
        "right": gettext_noop("next session"),
        "up": gettext_noop("previous trial"),
        "down": gettext_noop("next trial"),
    }
)


@dataclass(frozen=True)
class ResultsQuery:
    """The validated query of the page."""

    series: str = ""
    by: str = SESSIONS
    line: bool = False
    until: date | None = None
    trial: UUID | None = None

    def address(self, **changed: Any) -> str:
        """Return the page's address with some of it changed."""
        query = replace(self, **changed)
        parts = {
            "series": query.series,
            "by": query.by if query.by != SESSIONS else "",
            "line": "1" if query.line else "",
            "until": query.until.isoformat() if query.until else "",
            "try": str(query.trial or ""),
        }
        return "?" + urlencode({name: value for name, value in parts.items() if value})


@dataclass(frozen=True)
class Page:
    """The content of the page."""

    series: SeriesShown
    all_series: list[tuple[SeriesShown, str]]
    query: ResultsQuery
    charts: list[HistoryChart]
    summaries: list[SessionSummary]
    place_labels: dict[str, str]
    table: list[figures.FigureLine]
    trend: str
    mixed: str
    first: date
    last: date
    earlier: str
    later: str
    links: dict[str, str]
    close: TrialDetail | None
    tries: list[dict]
    place: str

    @property
    def arrows(self) -> list[tuple[str, str, str]]:
        """Return the key of each arrow, its target, and a label."""
        return [
            (f"arrow{way}", self.links[way], words)
            for way, words in ARROWS.items()
            if way in self.links
        ]

    @property
    def session_rows(self) -> SafeString:
        """Return the table of sessions."""
        return session_rows(self.summaries, self.place_labels)

    @property
    def compare(self) -> str:
        """Return the address of the comparison page for this series."""
        return "?" + urlencode({"series": self.series.key})


def results_page(
    client: Client, query: ResultsQuery, *, today: date, catalogue: Any
) -> Page | None:
    """Return a client's page; None if nothing drawable was ever tried."""
    every = series_of(client, catalogue)
    if not every:
        return None
    series = next((each for each in every if each.key == query.series), every[0])
    query = replace(query, series=series.key)
    drawn = [series]
    if query.by == NOTES:
        drawn = [each for each in every if each.family == series.family]
        drawn.sort(key=lambda each: (each.note_midi is None, each.note_midi or 0))
    read = trials_of(client, drawn, FOLLOWED)
    rows = [row for row in read if row.task in series.targets]
    zone = client.zone
    first, last = _window(read, query, today)
    summaries = summaries_of(series, rows)
    chosen = _chosen_trial(summaries, query, first, last)
    efforts = efforts_of(client, drawn, zone)
    own = [(session, day, value) for task, session, day, value in efforts if task in series.targets]
    table = figures.lines_of(series, rows, own, today=today)
    course = table[0].course  # The main figure of the series.
    history = practised_since(client, first)
    surroundings = surroundings_of(client, history, rows, first, last, today)
    charts = []
    for each in drawn:
        own_rows = rows if each is series else [row for row in read if row.task in each.targets]
        gathered = summaries
        if each is not series or query.by == WEEKS:
            gathered = summaries_of(each, own_rows, week_of if query.by == WEEKS else session_of)
        within = [one for one in gathered if first <= one.on <= last]
        shown = ChartedSession(
            first=first,
            last=last,
            figure=each.figure,
            course=course if each is series else course_for(each, own_rows, today=today),
            chosen=_key_of(chosen, gathered),
            titles={one.key: _title(one, each, weekly=query.by == WEEKS) for one in within},
            links={one.key: query.address(trial=one.shown.key, series=each.key) for one in within},
            efforts=_mean_efforts(efforts, own_rows, weekly=query.by == WEEKS),
            **surroundings,
        )
        chart = chart_of(
            gathered, shown, title=each.title, height=NOTE_HEIGHT if len(drawn) > 1 else 300
        )
        if chart:
            charts.append(chart)
    place, steps, tries = _steps(summaries, chosen, query)
    return Page(
        series=series,
        all_series=[
            (each, query.address(series=each.key, trial=None, until=None)) for each in every
        ],
        query=query,
        charts=charts,
        summaries=[each for each in reversed(summaries) if first <= each.on <= last],
        place_labels=place_labels(client, history),
        table=table,
        trend=figures.trend_words(course, series.figure.unit),
        mixed=figures.mixed_words(rows),
        first=first,
        last=last,
        earlier=_earlier(summaries, query, first),
        later=query.address(until=_later(last, query, today), trial=None) if last < today else "",
        links={
            **steps,
            "week": query.address(by=SESSIONS if query.by == WEEKS else WEEKS, until=None),
            "note": query.address(by=SESSIONS if query.by == NOTES else NOTES),
            "line": query.address(line=not query.line),
            **_series_steps(every, series, query),
        },
        close=_trial_detail(client, chosen),
        tries=tries,
        place=place,
    )


def _window(rows: Any, query: ResultsQuery, today: date) -> tuple[date, date]:
    """Return the days shown: to today where there was practice lately, else to the last of it."""
    days = [row.on for row in rows]
    span = SPANS[query.by]
    last = query.until or today
    if query.until is None and (today - days[-1]).days >= span:
        last = days[-1]
    looked_at = next((row.on for row in rows if row.key == query.trial), None)
    if looked_at and not last - timedelta(days=span - 1) <= looked_at <= last:
        last = min(today, looked_at + timedelta(days=span // 4))
    first = max(last - timedelta(days=span - 1), min(days[0], last))
    return min(first, last - timedelta(days=LEAST_SPAN - 1)), last


def _later(last: date, query: ResultsQuery, today: date) -> date | None:
    later = last + timedelta(days=SPANS[query.by])
    return None if later >= today else later


def _earlier(summaries: list[SessionSummary], query: ResultsQuery, first: date) -> str:
    if not any(each.on < first for each in summaries):
        return ""
    return query.address(until=first - timedelta(days=1), trial=None)


def _chosen_trial(
    summaries: list[SessionSummary], query: ResultsQuery, first: date, last: date
) -> Any:
    """Return the chosen trial: the requested one, otherwise the newest measured one."""
    if query.trial:
        for summary in summaries:
            for row in summary.rows:
                if row.key == query.trial:
                    return summary, row
    shown = [each for each in summaries if first <= each.on <= last and each.value is not None]
    return (shown[-1], shown[-1].shown) if shown else None


def _key_of(chosen: tuple[SessionSummary, Trial] | None, gathered: list[SessionSummary]) -> str:
    if chosen is None:
        return ""
    key = chosen[1].key
    return next((each.key for each in gathered if any(row.key == key for row in each.rows)), "")


def _steps(
    summaries: list[SessionSummary],
    chosen: tuple[SessionSummary, Trial] | None,
    query: ResultsQuery,
) -> tuple[Any, ...]:
    """Return where the arrows lead: sessions to the left and right, tries up and down."""
    if chosen is None:
        return "", {}, []
    summary, row = chosen
    measured = [each for each in summaries if each.value is not None or each is summary]
    at = measured.index(summary)

    def to_(other: PastTrial) -> Any:
        return query.address(trial=other.key)

    links = {}
    if at > 0:
        links["left"] = to_(measured[at - 1].shown)
    if at + 1 < len(measured):
        links["right"] = to_(measured[at + 1].shown)
    number = summary.rows.index(row)
    if number > 0:
        links["up"] = to_(summary.rows[number - 1])
    if number + 1 < len(summary.rows):
        links["down"] = to_(summary.rows[number + 1])
    tries = [
        {"number": place + 1, "row": each, "chosen": each is row, "link": to_(each)}
        for place, each in enumerate(summary.rows)
    ]
    return (
        gettext("trial {number} of {rows}").format(number=number + 1, rows=len(summary.rows)),
        links,
        tries,
    )


def _series_steps(
    every: list[SeriesShown], series: SeriesShown, query: ResultsQuery
) -> dict[str, Any]:
    if len(every) < 2:
        return {}
    at = every.index(series)
    return {
        "next_series": query.address(
            series=every[(at + 1) % len(every)].key, trial=None, until=None
        ),
        "previous_series": query.address(series=every[at - 1].key, trial=None, until=None),
    }


def _title(summary: SessionSummary, series: SeriesShown, *, weekly: Any) -> str:
    when = (
        gettext("week of {on}").format(on=short_day(summary.on)) if weekly else week_day(summary.on)
    )
    if summary.value is None:
        return gettext("{when}: no measurements").format(when=when)
    phrases = [f"{when}: {summary.value:.1f} {series.figure.unit}"]
    phrases.append(
        gettext("median of {rows}").format(rows=len(summary.rows))
        if len(summary.rows) > 1
        else gettext("one trial")
    )
    if summary.judged_trials:
        phrases.append(
            gettext("{met} of {judged} on target").format(
                met=summary.met, judged=summary.judged_trials
            )
        )
    else:
        phrases.append(gettext("not judged"))
    return ", ".join(phrases)


def efforts_of(client: Client, drawn: list[Any], zone: ZoneInfo) -> list[Any]:
    """Return (task, session, day, value) for each effort reported after one of these tasks."""
    tasks = [pk for each in drawn for pk in each.targets]
    reports = SelfReport.objects.filter(client=client, kind=SelfReport.Kind.EFFORT, task__in=tasks)
    return [
        (task, str(session), at.astimezone(zone).date(), float(value))
        for task, session, at, value in reports.order_by("said_at", "key").values_list(
            "task", "session", "said_at", "value"
        )
    ]


def _mean_efforts(efforts: list[Any], rows: Any, *, weekly: Any) -> dict[str, Any]:
    shown = {session_of(row): week_of(row) if weekly else "" for row in rows}
    found = defaultdict(list)
    for _, session, _, value in efforts:
        if session in shown:
            found[shown[session] or session].append(value)
    return {key: fmean(values) for key, values in found.items()}


def _trial_detail(
    client: Client, chosen: tuple[SessionSummary, Trial] | None
) -> TrialDetail | None:
    if chosen is None:
        return None
    trials = Trial.objects.select_related("task__programme", "trace").filter(client=client)
    trials = trials.defer("task__programme__document")
    trial = trials.get(pk=chosen[1].key)
    trial.task.programme.client = client
    return trial_detail(trial)
