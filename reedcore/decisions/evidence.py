"""Collect the part of a client's history that a decision about one task uses."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Sequence
from datetime import date, datetime, timedelta
from itertools import pairwise
from statistics import fmean
from uuid import UUID

from reedcore.history import (
    DecisionRecord,
    History,
    LongestOfDay,
    Report,
    TrialRecord,
    Version,
    counted_s,
)
from reedcore.programme.prescribed_item import PrescribedItem
from reedcore.programme.rungs import SECONDS, Rung
from reedcore.safety import Flag

from .case import WINDOW, PastTrial, ScaleAnswer
from .proposal import Reason

#: Reasons that concern more than one task.
OF_THE_WHOLE = (
    Reason.RED_FLAG_OPEN,
    Reason.BOTHER_UP,
    Reason.DAYS_MISSED,
    Reason.ADHERENCE_LOW,
    Reason.TOO_TIRED,
)
POWER = "block_power"
_ON_TARGET = {"met": True, "not_met": False, "not_judged": None}
#: Reasons that end a session because of strain or breathing.
_STRAINED = {Flag.STRAIN.value, Flag.LIGHT_HEADED.value}
#: Ask about too little practice only once per window.
OF_PRACTICE = (Reason.DAYS_MISSED, Reason.ADHERENCE_LOW)
#: Ask about a missing next step only once per window.
STALLS = (
    Reason.STUCK, Reason.TOO_SELDOM, Reason.EFFORT_NOT_ASKED, Reason.EFFORT_TOO_HIGH,
    Reason.EFFORT_TOO_LOW, Reason.NEXT_NOT_SHOWN, Reason.SINKING, Reason.TOP_OF_LADDER,
    Reason.AT_ITS_GOAL,
)  # fmt: skip
OF_THE_ROOM = (Reason.NOTHING_JUDGED, Reason.MUCH_NOT_JUDGED)
#: Questions have windows of their own and do not use up a step's evidence.
_MOVES_NOTHING = frozenset({*OF_THE_WHOLE, *STALLS, *OF_THE_ROOM})
#: Only a decision for one of these resets the evidence of a decline.
DECLINES = (
    Reason.HOLDS_SHORTER, Reason.EFFORT_UP, Reason.EFFORT_DOWN, Reason.LEVEL_DOWN,
    Reason.WORSE_FOR_TWO_WEEKS,
)  # fmt: skip


def since_of(history: History, task: PrescribedItem) -> datetime | None:
    """Return the time from which evidence counts: the last decision on the item on any note,
    accepted, refused or undone; or the last clearing of a red flag."""
    moments = [history.cleared_at] if history.cleared_at else []
    for each in _decisions_on(history, task):
        if each.reason not in _MOVES_NOTHING:
            moments += [moment for moment in (each.at, each.undone_at) if moment]
    return max(moments, default=None)


def watched_since(history: History, task: PrescribedItem) -> datetime | None:
    """Return the start of the evidence of a decline: the last decision about one, or a cleared red
    flag. No other decision resets it."""
    moments = [history.cleared_at] if history.cleared_at else []
    for each in _decisions_on(history, task):
        if each.reason in DECLINES:
            moments += [moment for moment in (each.at, each.undone_at) if moment]
    return max(moments, default=None)


def watch_start(history: History, watched: datetime | None) -> date | None:
    """Return the day after which days count; it is also reset by a return after a break."""
    back = history.back_on
    days = [history.day(watched)] if watched else []
    # The day of the return counts as current.
    return max([*days, *([back - timedelta(days=1)] if back else [])], default=None)


def last_decision_at(
    history: History, reasons: Collection[Reason], task: PrescribedItem | None = None
) -> datetime | None:
    """Return the time of the last decision for one of these reasons, about the programme or an
    item."""
    decisions = history.decisions if task is None else _decisions_on(history, task)
    moments = [each.undone_at or each.at for each in decisions if each.reason in reasons]
    if Reason.BOTHER_UP in reasons and history.cleared_at:
        moments.append(history.cleared_at)
    return max(moments, default=None)


def _decisions_on(history: History, task: PrescribedItem) -> list[DecisionRecord]:
    found = []
    for each in history.decisions:
        of = history.prescribed_items.get(each.task) if each.task is not None else None
        if of is not None and of.item_key == task.item_key:
            found.append(each)
    return found


def reports_of(history: History, kind: str, task: PrescribedItem) -> list[Report]:
    """Return reports about this item; in a version without items, about this task."""
    reports = history.reports_about(kind, task.code)
    return [
        each
        for each in reports
        if each.task is None or history.prescribed_items[each.task].item_key == task.item_key
    ]


def askings_of(history: History, task: PrescribedItem) -> list[PrescribedItem]:
    """Return the prescriptions of the item on its note, version by version, up to now."""
    return [
        each
        for version in history.in_force
        for each in version.tasks
        if each.item_key == task.item_key and each.series == task.series
    ]


def is_task_judged(history: History, task: PrescribedItem, trials: Sequence[TrialRecord]) -> bool:
    """Return whether the task is judged: lines, reading and talk with a target for level, rate or
    pitch count like holds."""
    if task.setting.floor is not None or task.setting.ceiling is not None:
        return True
    return any(
        each.outcome != "not_judged" and history.prescribed_items[each.task].aims == task.aims
        for each in trials
    )


def is_at_goal(history: History, task: PrescribedItem, *, is_maintained: bool) -> bool:
    """Return whether the target has reached the goal of the block."""
    if history.goal_s is None or task.target_s is None or is_maintained or task.code == POWER:
        return False
    return task.target_s >= history.goal_s


def count_returns(prescribed_items: Sequence[PrescribedItem], up: Rung | None) -> int:
    """Return how often the item moved to the next rung and back."""
    if up is None:
        return 0

    def is_there(each: PrescribedItem) -> bool:
        if up.changes == SECONDS:
            return (
                each.target_s is not None and up.seconds is not None and each.target_s >= up.seconds
            )
        return bool(each.params.get(up.changes) == up.value)

    return sum(is_there(one) and not is_there(after) for one, after in pairwise(prescribed_items))


def is_new(report: Report, since: datetime | None) -> bool:
    """Return whether a report is later than the last decision."""
    return since is None or report.at > since


def answers_of(
    reports: Iterable[Report], since: datetime | None, watched: datetime | None
) -> tuple[ScaleAnswer, ...]:
    """Return the answers on a scale, each with whether it is new."""
    return tuple(
        ScaleAnswer(
            report.on,
            float(report.value),
            is_new=is_new(report, since),
            is_watched=is_new(report, watched),
            session=report.session,
        )
        for report in reports
    )


def strain_times(
    history: History, task: PrescribedItem, trials: Sequence[TrialRecord]
) -> list[datetime]:
    """Return days with strain reported after the task, or with its session stopped for strain or
    light-headedness; a stop of a session that held no try counts for every task."""
    times = [each.at for each in reports_of(history, "strain", task) if each.value["said"]]
    stops = [
        stop for stop in history.stops if _STRAINED & set(stop.flags) and stop.cancelled_at is None
    ]
    if stops:
        of_task = {each.session for each in trials if each.session}
        every = (each for of in history.by_series.values() for each in of)
        with_tries = {each.session for each in every if each.session}
        times += [
            stop.said_at
            for stop in stops
            if stop.session in of_task or stop.session not in with_tries
        ]
    cleared = history.cleared_at
    return sorted(at for at in times if cleared is None or at > cleared)


def past_trial(
    history: History,
    task: PrescribedItem,
    each: TrialRecord,
    since: datetime | None,
    set_by: Version | None,
) -> PastTrial:
    """Return a trial as the rules read it."""
    prescribed = history.prescribed_items[each.task]
    # An earlier period with the same target does not count as the current one.
    current_trials = set_by is None or each.at >= set_by.at or prescribed.version >= set_by.number
    own = prescribed.item_key == task.item_key and prescribed.aims == task.aims and current_trials
    return PastTrial(
        key=str(each.key),
        session=each.session or each.on,
        on=each.on,
        was_on_target=_ON_TARGET[each.outcome],
        held_s=counted_s(each, task.counts),
        asked_s=history.asked_s(each),
        had_other_prescription=not own or history.asked_s(each) != task.target_s,
        is_new=since is None or each.at > since,
    )


def earlier_trial(day: LongestOfDay) -> PastTrial:
    """Return the longest hold of an earlier day as the rules read it."""
    return PastTrial(
        key="", session=day.on, on=day.on, held_s=day.held_s, asked_s=day.asked_s,
        had_other_prescription=True, is_new=False,
    )  # fmt: skip


def target_set_by(history: History, task: PrescribedItem) -> Version | None:
    """Return the version that set the current target of the item, after a different one."""
    aims: tuple[object, ...] | None = None
    found = None
    for version in history.in_force:
        for each in version.tasks:
            if each.item_key != task.item_key or each.series != task.series:
                continue
            if aims is None or each.aims != aims:
                aims, found = each.aims, version
    return found


def tired_sessions(history: History, since: datetime | None, today: date) -> tuple[int, int]:
    """Return the sessions of the fortnight with a task skipped as too tired, and all sessions; only
    those since a question about it."""
    recent_sessions: set[UUID] = {
        each.key
        for each in history.sessions
        if each.on > today - WINDOW and (since is None or each.at > since)
    }
    tired = {
        report.session
        for report in history.reports
        if report.kind == "skipped"
        and report.value == "tired"
        and report.session in recent_sessions
    }
    return len(tired), len(recent_sessions)


def block_means(history: History) -> tuple[tuple[date, float], ...]:
    """Return the mean over the notes for each day on which every power note in force was held."""
    tasks = history.programme.tasks if history.programme else ()
    notes = {task.series for task in tasks if task.code == POWER}
    held: dict[date, dict[tuple[str, int | None, str, str], list[float]]] = defaultdict(
        lambda: defaultdict(list)
    )
    for of, trials in history.by_series.items():
        if of in notes:
            for trial in trials:
                if trial.total_s is not None:
                    held[trial.on][of].append(trial.total_s)
    return tuple(
        (day, fmean(fmean(values) for values in by_note.values()))
        for day, by_note in sorted(held.items())
        if len(by_note) == len(notes)
    )
