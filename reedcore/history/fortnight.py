"""The last fortnight as drawn on the board: holds, targets, missed days, and three figures."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, timedelta
from uuid import UUID

from reedcore.measures import kind_of
from reedcore.programme.prescribed_item import PrescribedItem

from .dues import FORTNIGHT, adherence_14, missed_days
from .figures import counted_s
from .history import WEEK, History
from .values import TrialRecord

#: Maximum reeds of a day that remain distinguishable in a row.
MOST_A_DAY = 3


@dataclass(frozen=True, slots=True)
class Reed:
    """The longest trial of a session.

    Attributes:
        s: the seconds its task counts.
        breaks: (start, end) in seconds.
    """

    s: float
    asked: float | None
    outcome: str
    lean: float | None
    spread: float | None
    breaks: list[list[float]]


@dataclass(frozen=True, slots=True)
class DrawnDay:
    """A day; ``missed`` if a session was due and none was practised."""

    reeds: list[Reed]
    missed: bool


@dataclass(frozen=True, slots=True)
class Fortnight:
    """The last fourteen days of one client, as the summary draws them.

    Attributes:
        judged, met: trials of seven days.
    """

    first: date
    target_s: float | None
    days: list[DrawnDay]
    adherence: float | None
    judged: int
    met: int
    last: date | None
    programme: bool


def fortnight(history: History, pressing: PrescribedItem | None, *, today: date) -> Fortnight:
    """Return the last 14 days of the most urgent task, or of the one most practised."""
    first = today - timedelta(days=FORTNIGHT - 1)
    task = _drawn_task(history, pressing)
    missed = set(missed_days(history, first, today))
    by_day: dict[date, dict[UUID | None, list[TrialRecord]]] = defaultdict(
        lambda: defaultdict(list)
    )
    for each in _trials(history, task, first):
        if each.on >= first and each.total_s is not None:
            by_day[each.on][each.session].append(each)
    days = []
    for back in range(FORTNIGHT):
        day = first + timedelta(days=back)
        longest = [max(of, key=lambda one: _drawn_s(history, one)) for of in by_day[day].values()]
        reeds = [_reed(history, each) for each in longest[:MOST_A_DAY]]
        days.append(DrawnDay(reeds, day in missed))
    judged = [
        each.outcome
        for of in history.by_series.values()
        for each in of
        if each.on > today - WEEK and each.outcome != "not_judged"
    ]
    return Fortnight(
        first=first,
        target_s=task.target_s if task else None,
        days=days,
        adherence=adherence_14(history, today),
        judged=len(judged),
        met=judged.count("met"),
        last=history.last_on,
        programme=history.programme is not None,
    )


def _drawn_task(history: History, pressing: PrescribedItem | None) -> PrescribedItem | None:
    if history.programme is None:
        return None
    held = [each for each in history.programme.tasks if kind_of(each.measure).is_in_seconds]
    if pressing in held:
        return pressing
    return max(held, key=lambda task: len(history.trials_of(task)), default=None)


def _trials(history: History, task: PrescribedItem | None, first: date) -> list[TrialRecord]:
    """Return its trials; if there were none recently, those from before this version."""
    own = history.trials_of(task) if task else []
    if any(each.on >= first for each in own):
        return own
    drawn = [
        of for (*_, measure), of in history.by_series.items() if kind_of(measure).is_in_seconds
    ]
    return max(drawn, key=lambda of: sum(each.on >= first for each in of), default=own)


def _drawn_s(history: History, each: TrialRecord) -> float:
    return counted_s(each, history.prescribed_items[each.task].counts) or 0.0


def _reed(history: History, each: TrialRecord) -> Reed:
    return Reed(
        s=_drawn_s(history, each),
        asked=history.asked_s(each),
        outcome=each.outcome,
        lean=each.end_error_cents,
        spread=each.spread_cents,
        breaks=[[gap["start_s"], gap["end_s"]] for gap in each.breaks],
    )
