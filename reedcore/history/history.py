"""A client's history: the source of every page, report, file and decision."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime, timedelta
from functools import cached_property
from itertools import pairwise
from typing import Any
from zoneinfo import ZoneInfo

from reedcore.measures import kind_of
from reedcore.programme.prescribed_item import PrescribedItem
from reedcore.safety import Tier

from .figures import counted_s
from .values import (
    DecisionRecord,
    LongestOfDay,
    Report,
    Screening,
    SessionRecord,
    StopRecord,
    TrialRecord,
    Version,
)

#: The rules compare seven days with the 28 before, including a decline that began weeks ago.
LOOK_BACK = timedelta(days=63)
#: Keep each day's longest hold of the half year before: a slow decline is compared with the best
#: weeks.
LONG_LOOK_BACK = timedelta(days=182)
WEEK = timedelta(days=7)
#: A pause of this length is a break.
BREAK = timedelta(days=14)
SeriesKey = tuple[str, int | None, str, str]


@dataclass(frozen=True)
class History:
    """Everything oldest first.

    Attributes:
        zone: IANA name of where the client lives.
        goal_s: the hold goal that is accepted; None without one.
        more: tasks of versions that are not in ``versions``, which trials may still name.
        earlier: each practised day's longest hold before the trials that are here, by series.
        rested: days, both included, on which voice rest was ordered: nothing was due.
    """

    zone: str
    versions: tuple[Version, ...] = ()
    trials: tuple[TrialRecord, ...] = ()
    sessions: tuple[SessionRecord, ...] = ()
    reports: tuple[Report, ...] = ()
    stops: tuple[StopRecord, ...] = ()
    screens: tuple[Screening, ...] = ()
    decisions: tuple[DecisionRecord, ...] = ()
    goal_s: float | None = None
    more: tuple[PrescribedItem, ...] = ()
    earlier: Mapping[SeriesKey, tuple[LongestOfDay, ...]] = field(default_factory=dict)
    rested: tuple[tuple[date, date], ...] = ()

    def day(self, moment: datetime) -> date:
        """Return the day it was where the client lives."""
        return moment.astimezone(ZoneInfo(self.zone)).date()

    @cached_property
    def in_force(self) -> tuple[Version, ...]:
        """Return the versions that were not withdrawn."""
        return tuple(each for each in self.versions if not each.is_withdrawn)

    @property
    def programme(self) -> Version | None:
        """Return the version in force; None if there is none."""
        return self.in_force[-1] if self.in_force else None

    @cached_property
    def prescribed_items(self) -> dict[int, PrescribedItem]:
        """Return every prescribed task by its key."""
        found = {task.key: task for task in self.more}
        return found | {task.key: task for version in self.versions for task in version.tasks}

    @cached_property
    def by_series(self) -> dict[SeriesKey, list[TrialRecord]]:
        """Return the trials of each series without deliberately poor ones."""
        found: dict[SeriesKey, list[TrialRecord]] = defaultdict(list)
        for trial in self.trials:
            if trial.role != "poor" and trial.task in self.prescribed_items:
                found[self.prescribed_items[trial.task].series].append(trial)
        return found

    def trials_of(self, prescribed: PrescribedItem) -> list[TrialRecord]:
        """Return the trials of that task on its note and sound, under any version."""
        return self.by_series.get(prescribed.series, [])

    @cached_property
    def _reports(self) -> dict[tuple[str, str], list[Report]]:
        found: dict[tuple[str, str], list[Report]] = defaultdict(list)
        for report in self.reports:
            task = self.prescribed_items.get(report.task) if report.task else None
            found[report.kind, task.code if task else ""].append(report)
        return found

    def reports_about(self, kind: str, code: str = "") -> list[Report]:
        """Return reports of one kind, after one task or about the whole session."""
        return self._reports.get((kind, code), [])

    def asked_s(self, trial: TrialRecord) -> float | None:
        """Return the target seconds; None if there was none."""
        return trial.set_s or self.prescribed_items[trial.task].target_s

    @cached_property
    def screen(self) -> Screening | None:
        """Return the newest screening."""
        return self.screens[-1] if self.screens else None

    @cached_property
    def uncleared_stops(self) -> tuple[StopRecord, ...]:
        """Return the stops that no clinician has cleared."""
        return tuple(stop for stop in self.stops if stop.cleared_at is None)

    @cached_property
    def cleared_at(self) -> datetime | None:
        """Return when a red flag was last cleared or declared safe."""
        moments = [
            stop.cleared_at
            for stop in self.stops
            if stop.cleared_at and stop.pauses and stop.cancelled_at is None
        ]
        if self.screen and self.screen.flags and self.screen.safe_at:
            moments.append(self.screen.safe_at)
        return max(moments, default=None)

    @property
    def red_flags(self) -> tuple[str, ...]:
        """Return the flags that block every advance; a session that only ended early does not."""
        ended = Tier.END_SESSION.value
        stops = [
            str(each.key) for each in self.uncleared_stops if each.pauses or each.tier != ended
        ]
        return (*stops, *(self.screen.open_flags if self.screen else ()))

    @property
    def open_flags(self) -> list[str]:
        """Return the codes of the reported flags, without duplicates."""
        flags = [code for stop in self.uncleared_stops for code in stop.flags]
        return list(dict.fromkeys([*flags, *(self.screen.open_flags if self.screen else ())]))

    @cached_property
    def cache(self) -> dict[tuple[str, date], Any]:
        """Return a value that was computed for this day already; a history never changes."""
        return {}

    @cached_property
    def last_on(self) -> date | None:
        """Return when anything was last practised; a rest day is kept, and no practice."""
        tries = [each.on for each in self.trials if each.role != "poor"]
        sessions = (each.on for each in self.sessions if each.day != "rest")
        return max([*sessions, *tries], default=None)

    @cached_property
    def back_on(self) -> date | None:
        """Return the day on which the client returned after the last break; None without one."""
        days = {each.on for each in self.trials if each.role != "poor"}
        ordered = sorted(days | {each.on for each in self.sessions if each.day != "rest"})
        breaks = [after for one, after in pairwise(ordered) if after - one >= BREAK]
        return breaks[-1] if breaks else None


def seconds_before(versions: Sequence[Version], today: date) -> dict[str, float]:
    """Return the held seconds in force seven days ago by item; in the first week the initial ones.
    By task code, the most of its items: an item that is added again is still that task.

    Args:
        versions: those in force, the oldest first.
    """
    week_old = _week_old(versions, today)
    found: dict[str, float] = {}
    by_code: dict[str, float] = {}
    for version in (*week_old, *(each for each in versions if each.on > today - WEEK)):
        for task in version.tasks:
            if kind_of(task.measure).has_weekly_cap and task.target_s:
                found.setdefault(task.item_key, task.target_s)
                if task.item_id:
                    by_code[task.code] = max(by_code.get(task.code, 0.0), found[task.item_key])
    return by_code | found


def version_week_ago(versions: Sequence[Version], today: date) -> Version | None:
    """Return the version in force seven days ago; in the first week the one it began with.

    Args:
        versions: those in force, the oldest first.
    """
    return next(iter(_week_old(versions, today) or versions), None)


def _week_old(versions: Sequence[Version], today: date) -> list[Version]:
    """Return the newest version of seven days ago or older, in a list; empty in the first week."""
    return [each for each in versions if each.on <= today - WEEK][-1:]


def recent_history(history: History, *, now: datetime) -> History:
    """Return the part that the rules look at: 63 days, and the versions in force within them."""
    since = now - LOOK_BACK
    first = history.day(now - LONG_LOOK_BACK)
    old = [each for each in history.in_force if each.at < since]
    return replace(
        history,
        versions=(*old[-1:], *(each for each in history.in_force if each.at >= since)),
        more=tuple(history.prescribed_items.values()),
        trials=tuple(each for each in history.trials if each.at >= since),
        earlier={
            series: longest_of(history, [one for one in of if one.at < since and one.on >= first])
            for series, of in history.by_series.items()
        },
        sessions=tuple(each for each in history.sessions if each.at >= since),
        reports=tuple(each for each in history.reports if each.at >= since),
        stops=tuple(
            each
            for each in history.stops
            if each.cleared_at is None or each.cleared_at >= since or each.received_at >= since
        ),
        screens=history.screens[-1:],
        decisions=tuple(
            each
            for each in history.decisions
            if each.at >= since or (each.undone_at and each.undone_at >= since)
        ),
    )


def longest_of(history: History, trials: Iterable[TrialRecord]) -> tuple[LongestOfDay, ...]:
    """Return each practised day's longest hold of one series, the oldest first."""
    found: dict[date, LongestOfDay] = {}
    for trial in trials:
        held = counted_s(trial, history.prescribed_items[trial.task].counts)
        before = found.get(trial.on)
        if held is not None and (before is None or before.held_s < held):
            found[trial.on] = LongestOfDay(trial.on, held, history.asked_s(trial))
    return tuple(found[day] for day in sorted(found))
