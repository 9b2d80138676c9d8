"""A client's history as cases, and what is proposed: one question, asked here by everybody."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from enum import StrEnum
from itertools import pairwise
from statistics import fmean
from uuid import UUID

from reedcore.history import (
    DayHeld,
    Decision,
    History,
    Report,
    Trial,
    Version,
    counted_s,
    seconds_before,
)
from reedcore.history.dues import adherence_14, missed_in_a_row
from reedcore.measures import kind_of
from reedcore.programme.asking import Asking
from reedcore.programme.rungs import SECONDS, Rung, rung
from reedcore.safety import Flag

from .case import LONG_WINDOW, MONTH, WINDOW, Answer, Case, Felt, Level, PastTrial
from .need import need_of
from .proposal import Proposal, Reason, Step
from .rules import propose_together
from .settings import Settings

#: Reasons that do not lie in one task.
OF_THE_WHOLE = (
    Reason.RED_FLAG_OPEN,
    Reason.BOTHER_UP,
    Reason.DAYS_MISSED,
    Reason.ADHERENCE_LOW,
    Reason.TOO_TIRED,
)
#: Reasons that lie in the block as a whole, not in one of its notes.
OF_THE_BLOCK = (Reason.GOAL_REACHED, Reason.PEAK_KEPT, Reason.PEAK_LOST)
#: Steps that move a task one rung; the others are the clinician's own next action.
RUNGS = {Step.ADVANCE: 1, Step.EASE: -1, Step.EASE_AND_CALL: -1}
POWER = "block_power"
_ON_TARGET = {"met": True, "not_met": False, "not_judged": None}
#: What ends a session for strain of the voice or of the breath.
_STRAINED = {Flag.STRAIN.value, Flag.LIGHT_HEADED.value}
#: Too little practice, asked about once, is not asked about again within its window.
OF_PRACTICE = (Reason.DAYS_MISSED, Reason.ADHERENCE_LOW)
#: Nowhere to go, likewise.
STALLS = (
    Reason.STUCK, Reason.TOO_SELDOM, Reason.EFFORT_NOT_ASKED, Reason.EFFORT_TOO_HIGH,
    Reason.EFFORT_TOO_LOW, Reason.NEXT_NOT_SHOWN, Reason.SINKING, Reason.TOP_OF_LADDER,
    Reason.AT_ITS_GOAL,
)  # fmt: skip
OF_THE_ROOM = (Reason.NOTHING_JUDGED, Reason.MUCH_NOT_JUDGED)
#: What was asked has windows of its own, and takes nothing of the evidence of a step.
_MOVES_NOTHING = frozenset({*OF_THE_WHOLE, *STALLS, *OF_THE_ROOM})
#: Only a decision for one of these resets the evidence of a decline.
DECLINES = (
    Reason.HOLDS_SHORTER, Reason.EFFORT_UP, Reason.EFFORT_DOWN, Reason.LEVEL_DOWN,
    Reason.WORSE_FOR_TWO_WEEKS,
)  # fmt: skip


class About(StrEnum):
    """What a proposal is about."""

    TASK = "task"
    BLOCK = "block"
    WHOLE = "whole"


@dataclass(frozen=True, slots=True)
class Proposed:
    """A proposal, and the task that it speaks of; None where no programme is in force."""

    about: About
    proposal: Proposal
    asking: Asking | None

    @property
    def to(self) -> Rung | None:
        """Where taking it moves the task; None where it moves nothing."""
        return rung_of(self.proposal, self.asking) if self.asking else None


def rung_of(proposal: Proposal, asking: Asking) -> Rung | None:
    """Where a step up or down moves a task; None where it moves nothing."""
    by = RUNGS.get(proposal.step)
    return rung(asking, by=by) if by else None


def proposals(history: History, settings: Settings, *, today: date) -> list[Proposed]:
    """What is proposed, the most pressing first; empty where everything stays as it is.

    Args:
        history: of the look back (:func:`reedcore.history.lately`).
    """
    return spoken(history, for_each_task(history, settings, today=today))


def spoken(history: History, every: Iterable[Proposed]) -> list[Proposed]:
    """Those of what is said of each task that propose something; a red flag speaks without any."""
    said = _spoken(every)
    if history.red_flags and not said:
        # a flag speaks without a programme too
        flag = Proposal(Step.STOP_AND_REFER, Reason.RED_FLAG_OPEN, rests_on=history.red_flags)
        return [Proposed(About.WHOLE, flag, None)]
    return said


def for_each_task(history: History, settings: Settings, *, today: date) -> list[Proposed]:
    """What is proposed for each task of the programme in force, in its order; a task on several
    notes moves as one, and its proposal names the note that speaks for it."""
    if history.programme is None:
        return []
    together: dict[tuple[str, str], list[Asking]] = {}
    for task in history.programme.tasks:
        together.setdefault((task.item_id or f"task-{task.key}", task.code), []).append(task)
    practice = _practice(history, today)
    found = []
    for notes in together.values():
        cases = [_case(history, task, practice, today=today) for task in notes]
        place, proposal = propose_together(cases, settings)
        found.append(Proposed(About.TASK, proposal, notes[place]))
    return found


def _spoken(every: Iterable[Proposed]) -> list[Proposed]:
    """Those that say something; what holds for every task only once."""
    found: list[Proposed] = []
    seen: set[Reason] = set()
    for each in every:
        reason = each.proposal.reason
        about = (
            About.WHOLE
            if reason in OF_THE_WHOLE
            else About.BLOCK
            if reason in OF_THE_BLOCK
            else About.TASK
        )
        if each.proposal.step is Step.STAY or (about is not About.TASK and reason in seen):
            continue
        seen.add(reason)
        found.append(replace(each, about=about))
    return sorted(found, key=lambda each: need_of(each.proposal))


def case_of(history: History, task: Asking, *, today: date) -> Case:
    """The case of one task on its note and sound."""
    return _case(history, task, _practice(history, today), today=today)


@dataclass(frozen=True, slots=True)
class _Practice:
    """What holds for every task."""

    missed: int
    adherence: float | None
    checked_in: bool
    tired: tuple[int, int]
    before: Mapping[str, float]


def _practice(history: History, today: date) -> _Practice:
    asked = decided_on(history, (Reason.DAYS_MISSED,))
    of_practice = decided_on(history, OF_PRACTICE)
    return _Practice(
        missed_in_a_row(history, today, asked_on=history.day(asked) if asked else None),
        adherence_14(history, today),
        of_practice is not None and history.day(of_practice) > today - WINDOW,
        _tired(history, decided_on(history, (Reason.TOO_TIRED,)), today),
        seconds_before(history.in_force, today),
    )


def _case(history: History, task: Asking, practice: _Practice, *, today: date) -> Case:
    kind = kind_of(task.measure)
    version = history.programme
    document = (version.document if version else None) or {}
    taper = document.get("taper") or {}
    maintained = document.get("sort") == "maintenance"  # it has no way on, and needs none
    since, watched = since_of(history, task), watched_since(history, task)
    set_by = _target_set_by(history, task)
    trials = history.of(task)
    up, down = rung(task, by=1), rung(task, by=-1)
    of_power = task.code == POWER
    stall, room = decided_on(history, STALLS, task), decided_on(history, OF_THE_ROOM, task)
    strained = _strained(history, task, trials)
    askings = _askings_of(history, task)
    return Case(
        today=today,
        loud=task.is_loud,
        measured=kind.decides or _is_judged(history, task, trials),
        since=history.day(since) if since else None,
        decline_since=_day_of_watch(history, watched),
        trials=(
            *(_earlier(each) for each in history.earlier.get(task.series, ())),
            *(_past(history, task, each, since, set_by) for each in trials),
        ),
        efforts=_answers(_said(history, "effort", task), since, watched),
        levels=tuple(
            Level(each.on, each.level_db, each.capture.get("device") or "")
            for each in trials
            if each.level_db is not None
        ),
        strained_on=tuple(history.day(at) for at in strained),
        strained_anew_on=tuple(history.day(at) for at in strained if since is None or at > since),
        cannot=tuple(
            str(report.key)
            for report in _said(history, "skipped", task)
            if report.value == "cant"
            and _is_new(report, since)
            and version is not None
            and version.at <= report.at
            and report.on > today - WINDOW
        ),
        felt=tuple(
            Felt(report.on, report.session or report.on, report.value)
            for report in _said(history, "felt", task)
            if _is_new(report, since) and report.on > today - LONG_WINDOW
        ),
        bothers=_answers(history.said("bother"), None, decided_on(history, (Reason.BOTHER_UP,))),
        open_flags=history.red_flags,
        tries_prescribed=task.tries,
        climbs=up is not None,
        eases=down is not None,
        seconds_now=task.target_s,
        next_seconds=up.seconds if up else None,
        returns=_returns(askings, up),
        moved_before=any(each.aims != task.aims for each in askings),
        at_goal=_is_at_goal(history, task, maintained=maintained),
        seconds_a_week_ago=practice.before.get(task.item_key),
        capped=kind.weekly_cap,
        block_means=_block_means(history) if of_power else (),
        goal_s=history.goal_s if of_power and not maintained else None,
        in_taper=bool(taper),
        taper_week=taper.get("week") if of_power else None,
        taper_since=date.fromisoformat(taper["since"]) if taper else None,
        peak_s=taper.get("peak_s"),
        same_target_since=None if maintained or set_by is None else set_by.on,
        last_session_on=history.last_on,
        due_days_missed=practice.missed,
        adherence_14=practice.adherence,
        checked_in=practice.checked_in,
        tired=practice.tired,
        stall_asked=stall is not None and history.day(stall) > today - MONTH,
        room_asked_on=history.day(room) if room else None,
    )


def since_of(history: History, task: Asking) -> datetime | None:
    """From when on evidence is new: the last decision on the item, on any of its notes, taken,
    refused or undone; or when a red flag was last cleared."""
    moments = [history.cleared_at] if history.cleared_at else []
    for each in _decisions_on(history, task):
        if each.reason not in _MOVES_NOTHING:
            moments += [moment for moment in (each.at, each.undone_at) if moment]
    return max(moments, default=None)


def watched_since(history: History, task: Asking) -> datetime | None:
    """From when on a decline is watched: the last decision about one, or a red flag's clearing.
    Nothing else takes anything of its evidence back."""
    moments = [history.cleared_at] if history.cleared_at else []
    for each in _decisions_on(history, task):
        if each.reason in DECLINES:
            moments += [moment for moment in (each.at, each.undone_at) if moment]
    return max(moments, default=None)


def _day_of_watch(history: History, watched: datetime | None) -> date | None:
    """The day after which days count; the client's return after a break begins it too."""
    back = history.back_on
    days = [history.day(watched)] if watched else []
    # the day of the return itself is of now
    return max([*days, *([back - timedelta(days=1)] if back else [])], default=None)


def decided_on(
    history: History, reasons: Collection[Reason], task: Asking | None = None
) -> datetime | None:
    """When something was last decided for one of these reasons, of the whole programme or of one
    item."""
    decisions = history.decisions if task is None else _decisions_on(history, task)
    moments = [each.undone_at or each.at for each in decisions if each.reason in reasons]
    if Reason.BOTHER_UP in reasons and history.cleared_at:
        moments.append(history.cleared_at)
    return max(moments, default=None)


def _decisions_on(history: History, task: Asking) -> list[Decision]:
    found = []
    for each in history.decisions:
        of = history.askings.get(each.task) if each.task is not None else None
        if of is not None and of.item_key == task.item_key:
            found.append(each)
    return found


def _said(history: History, kind: str, task: Asking) -> list[Report]:
    """What was said after this item; of a version without items, after this task."""
    said = history.said(kind, task.code)
    return [
        each
        for each in said
        if each.task is None or history.askings[each.task].item_key == task.item_key
    ]


def _askings_of(history: History, task: Asking) -> list[Asking]:
    """What was asked of the item on its note, version by version, up to now."""
    return [
        each
        for version in history.in_force
        for each in version.tasks
        if each.item_key == task.item_key and each.series == task.series
    ]


def _is_judged(history: History, task: Asking, trials: Sequence[Trial]) -> bool:
    """Lines, reading and talk with a level, a rate or a pitch band set are on target or not like
    any hold."""
    if any(task.item.get(name) is not None for name in ("floor", "ceiling")):
        return True
    return any(
        each.outcome != "not_judged" and history.askings[each.task].aims == task.aims
        for each in trials
    )


def _is_at_goal(history: History, task: Asking, *, maintained: bool) -> bool:
    if history.goal_s is None or task.target_s is None or maintained or task.code == POWER:
        return False
    return task.target_s >= history.goal_s


def _returns(askings: Sequence[Asking], up: Rung | None) -> int:
    """How often the item stood on the next rung and came back down."""
    if up is None:
        return 0

    def is_there(each: Asking) -> bool:
        if up.changes == SECONDS:
            return (
                each.target_s is not None and up.seconds is not None and each.target_s >= up.seconds
            )
        return bool(each.params.get(up.changes) == up.value)

    return sum(is_there(one) and not is_there(after) for one, after in pairwise(askings))


def _is_new(report: Report, since: datetime | None) -> bool:
    return since is None or report.at > since


def _answers(
    reports: Iterable[Report], since: datetime | None, watched: datetime | None
) -> tuple[Answer, ...]:
    return tuple(
        Answer(
            report.on,
            float(report.value),
            anew=_is_new(report, since),
            watched=_is_new(report, watched),
            session=report.session,
        )
        for report in reports
    )


def _strained(history: History, task: Asking, trials: Sequence[Trial]) -> list[datetime]:
    """When strain was said after it, or a session that held it was stopped for strain or
    light-headedness; a stop of a session that held no try counts for every task."""
    said = [each.at for each in _said(history, "strain", task) if each.value["said"]]
    stops = [
        stop for stop in history.stops if _STRAINED & set(stop.flags) and stop.taken_back_at is None
    ]
    if stops:
        of_task = {each.session for each in trials if each.session}
        every = (each for of in history.by_series.values() for each in of)
        with_tries = {each.session for each in every if each.session}
        said += [
            stop.said_at
            for stop in stops
            if stop.session in of_task or stop.session not in with_tries
        ]
    cleared = history.cleared_at
    return sorted(at for at in said if cleared is None or at > cleared)


def _past(
    history: History, task: Asking, each: Trial, since: datetime | None, set_by: Version | None
) -> PastTrial:
    asked = history.askings[each.task]
    # the same target before another was in force in between is not the one of now
    of_now = set_by is None or each.at >= set_by.at or asked.version >= set_by.number
    own = asked.item_key == task.item_key and asked.aims == task.aims and of_now
    return PastTrial(
        key=str(each.key),
        session=each.session or each.on,
        on=each.on,
        on_target=_ON_TARGET[each.outcome],
        held_s=counted_s(each, task.counts),
        asked_s=history.asked_s(each),
        asked_other=not own or history.asked_s(each) != task.target_s,
        anew=since is None or each.at > since,
    )


def _earlier(day: DayHeld) -> PastTrial:
    return PastTrial(
        key="", session=day.on, on=day.on, held_s=day.held_s, asked_s=day.asked_s,
        asked_other=True, anew=False,
    )  # fmt: skip


def _target_set_by(history: History, task: Asking) -> Version | None:
    """The version that set what is asked of the item now, after it was asked for something else."""
    aims: tuple[object, ...] | None = None
    found = None
    for version in history.in_force:
        for each in version.tasks:
            if each.item_key != task.item_key or each.series != task.series:
                continue
            if aims is None or each.aims != aims:
                aims, found = each.aims, version
    return found


def _tired(history: History, since: datetime | None, today: date) -> tuple[int, int]:
    """Sessions of the fortnight in which something was skipped as too tired, and all of them; once
    it was asked about, those since."""
    lately: set[UUID] = {
        each.key
        for each in history.sessions
        if each.on > today - WINDOW and (since is None or each.at > since)
    }
    tired = {
        report.session
        for report in history.reports
        if report.kind == "skipped" and report.value == "tired" and report.session in lately
    }
    return len(tired), len(lately)


def _block_means(history: History) -> tuple[tuple[date, float], ...]:
    """Of each day on which every power note in force was held, the mean over the notes."""
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
