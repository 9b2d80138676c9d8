"""A client's history as cases, and what is proposed: one question, asked here by everybody."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from enum import StrEnum
from statistics import fmean
from uuid import UUID

from reedcore.history import History, Report, Trial, counted_s, seconds_before
from reedcore.history.dues import adherence_14, missed_in_a_row
from reedcore.measures import kind_of
from reedcore.programme.asking import Asking
from reedcore.programme.rungs import Rung, rung
from reedcore.safety import Flag

from .case import WINDOW, Answer, Case, Felt, Level, PastTrial
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
#: Too little practice, asked about once, is not asked about again within this.
_OF_PRACTICE = (Reason.DAYS_MISSED, Reason.ADHERENCE_LOW)


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
    said = _spoken(for_each_task(history, settings, today=today))
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
        item = task.item_id or f"task-{task.key}"
        together.setdefault((item, task.code), []).append(task)
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
    before: Mapping[str, float]


def _practice(history: History, today: date) -> _Practice:
    asked = decided_on(history, Reason.DAYS_MISSED)
    moments = [decided_on(history, reason) for reason in _OF_PRACTICE]
    return _Practice(
        missed_in_a_row(history, today, asked_on=history.day(asked) if asked else None),
        adherence_14(history, today),
        any(moment and history.day(moment) > today - WINDOW for moment in moments),
        seconds_before(history.in_force, today),
    )


def _case(history: History, task: Asking, practice: _Practice, *, today: date) -> Case:
    kind = kind_of(task.measure)
    version = history.programme
    document = (version.document if version else None) or {}
    taper = document.get("taper") or {}
    maintained = document.get("sort") == "maintenance"  # it has no way on, and needs none
    since, trials = since_of(history, task), history.of(task)
    up, down = rung(task, by=1), rung(task, by=-1)
    of_power = task.code == POWER
    stuck = decided_on(history, Reason.STUCK, task)
    same = None if maintained else _same_target_since(history, task)
    same = max(same, history.day(stuck)) if same and stuck else same
    past = tuple(_past(history, task, each, since) for each in trials)
    return Case(
        today=today,
        loud=task.is_loud,
        measured=kind.decides,
        since=history.day(since) if since else None,
        trials=past,
        efforts=_answers(history.said("effort", task.code), since),
        levels=tuple(
            Level(each.on, each.level_db, each.capture.get("device") or "")
            for each in trials
            if each.level_db is not None
        ),
        strained_on=tuple(
            report.on
            for report in history.said("strain", task.code)
            if report.value["said"] and _is_new(report, since)
        ),
        stopped_on=_stopped_on(history, trials, since),
        cannot=tuple(
            str(report.key)
            for report in history.said("skipped", task.code)
            if report.value == "cant"
            and _is_new(report, since)
            and version is not None
            and version.at <= report.at
            and report.on > today - WINDOW
        ),
        felt=tuple(
            Felt(report.on, str(report.session or report.on), report.value)
            for report in history.said("felt", task.code)
            if _is_new(report, since)
        ),
        bothers=_answers(history.said("bother"), decided_on(history, Reason.BOTHER_UP)),
        open_flags=history.red_flags,
        tries_prescribed=task.tries,
        climbs=up is not None,
        eases=down is not None,
        seconds_now=task.target_s,
        next_seconds=up.seconds if up else None,
        seconds_a_week_ago=practice.before.get(task.code),
        capped=kind.weekly_cap,
        block_means=_block_means(history) if of_power else (),
        goal_s=history.goal_s if of_power and not maintained else None,
        taper_week=taper.get("week") if of_power or taper else None,
        taper_since=date.fromisoformat(taper["since"]) if taper else None,
        peak_s=taper.get("peak_s"),
        same_target_since=same,
        last_session_on=history.last_on,
        due_days_missed=practice.missed,
        adherence_14=practice.adherence,
        checked_in=practice.checked_in,
        tired=_tired(history, since, today),
    )


def since_of(history: History, task: Asking) -> datetime | None:
    """From when on evidence is new: the last decision on the task, on any of its notes, taken,
    refused or undone; or when a red flag was last cleared."""
    moments = [history.cleared_at] if history.cleared_at else []
    for each in history.decisions:
        of = history.askings.get(each.task) if each.task is not None else None
        if of is None or (of.code, of.sound) != (task.code, task.sound):
            continue
        if each.reason not in OF_THE_WHOLE:
            moments += [moment for moment in (each.at, each.undone_at) if moment]
    return max(moments, default=None)


def decided_on(history: History, reason: Reason, task: Asking | None = None) -> datetime | None:
    """When something was last decided for that reason, of the whole programme or of one task."""
    moments = []
    for each in history.decisions:
        of = history.askings.get(each.task) if each.task is not None else None
        if each.reason == reason.value and (task is None or (of and of.series == task.series)):
            moments.append(each.undone_at or each.at)
    if reason is Reason.BOTHER_UP and history.cleared_at:
        moments.append(history.cleared_at)
    return max(moments, default=None)


def _is_new(report: Report, since: datetime | None) -> bool:
    return since is None or report.at > since


def _answers(reports: Iterable[Report], since: datetime | None) -> tuple[Answer, ...]:
    return tuple(
        Answer(report.on, float(report.value), anew=_is_new(report, since)) for report in reports
    )


def _stopped_on(
    history: History, trials: Sequence[Trial], since: datetime | None
) -> tuple[date, ...]:
    """Days on which a session that held this task was stopped for strain or light-headedness; a
    stop of a session that held no try counts for every task."""
    stops = [
        stop
        for stop in history.stops
        if _STRAINED & set(stop.flags)
        and stop.taken_back_at is None
        and (since is None or stop.said_at > since)
    ]
    if not stops:
        return ()
    of_task = {each.session for each in trials if each.session}
    with_tries = {each.session for of in history.by_series.values() for each in of if each.session}
    return tuple(
        history.day(stop.said_at)
        for stop in stops
        if stop.session in of_task or stop.session not in with_tries
    )


def _past(history: History, task: Asking, each: Trial, since: datetime | None) -> PastTrial:
    return PastTrial(
        key=str(each.key),
        session=each.session or each.on,
        on=each.on,
        on_target=_ON_TARGET[each.outcome],
        held_s=counted_s(each, task.counts),
        asked_other=history.asked_s(each) != task.target_s,
        anew=since is None or each.at > since,
    )


def _same_target_since(history: History, task: Asking) -> date | None:
    """Since when its series has been asked for the seconds it is asked for now."""
    asked: float | None = None
    since = None
    for version in history.in_force:
        for each in version.tasks:
            if each.series == task.series and each.target_s is not None and each.target_s != asked:
                asked, since = each.target_s, version.on
    return since


def _tired(history: History, since: datetime | None, today: date) -> tuple[int, int]:
    """Sessions of the fortnight in which something was skipped as too tired, and all of them."""
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
