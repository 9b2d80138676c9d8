"""A client's history as cases, and the proposals for them; all callers ask here."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date
from enum import StrEnum

from reedcore.history import (
    History,
    seconds_before,
)
from reedcore.history.dues import adherence_14, missed_in_a_row
from reedcore.measures import kind_of
from reedcore.programme.prescribed_item import PrescribedItem
from reedcore.programme.rungs import Rung, rung

from .case import LONG_WINDOW, MONTH, WINDOW, Case, FeltCheck, LoudLevel
from .evidence import (
    OF_PRACTICE,
    OF_THE_ROOM,
    OF_THE_WHOLE,
    POWER,
    STALLS,
    answers_of,
    askings_of,
    block_means,
    count_returns,
    earlier_trial,
    is_at_goal,
    is_new,
    is_task_judged,
    last_decision_at,
    past_trial,
    reports_of,
    since_of,
    strain_times,
    target_set_by,
    tired_sessions,
    watch_start,
    watched_since,
)
from .need import need_of
from .proposal import Proposal, Reason, Step
from .rules import propose_together
from .settings import Settings

#: Reasons that concern the block as a whole.
OF_THE_BLOCK = (Reason.GOAL_REACHED, Reason.PEAK_KEPT, Reason.PEAK_LOST)
#: Steps that move a task one rung; all others are the clinician's own action.
RUNGS = {Step.ADVANCE: 1, Step.EASE: -1, Step.EASE_AND_CALL: -1}


class ProposalSubject(StrEnum):
    """The task, note and version that a proposal is about."""

    TASK = "task"
    BLOCK = "block"
    WHOLE = "whole"


@dataclass(frozen=True, slots=True)
class HistoryProposals:
    """A proposal and its task; None if no programme is in force."""

    about: ProposalSubject
    proposal: Proposal
    prescribed_item: PrescribedItem | None

    @property
    def next_rung(self) -> Rung | None:
        """Return the rung that accepting it sets; None if it moves nothing."""
        return rung_of(self.proposal, self.prescribed_item) if self.prescribed_item else None


def rung_of(proposal: Proposal, prescribed: PrescribedItem) -> Rung | None:
    """Return the rung that a step up or down reaches; None if it moves nothing."""
    by = RUNGS.get(proposal.step)
    return rung(prescribed, by=by) if by else None


def proposals(history: History, settings: Settings, *, today: date) -> list[HistoryProposals]:
    """Return the proposals, the most urgent first; empty if nothing should change.

    Args:
        history: of the look back (:func:`reedcore.history.recent_history`).
    """
    return proposing_only(history, for_each_task(history, settings, today=today))


def proposing_only(history: History, every: Iterable[HistoryProposals]) -> list[HistoryProposals]:
    """Return the findings that propose a change; a red flag is reported without one."""
    proposals = _proposing_only(every)
    if history.red_flags and not proposals:
        # A flag applies without a programme too.
        flag = Proposal(Step.STOP_AND_REFER, Reason.RED_FLAG_OPEN, evidence=history.red_flags)
        return [HistoryProposals(ProposalSubject.WHOLE, flag, None)]
    return proposals


def for_each_task(history: History, settings: Settings, *, today: date) -> list[HistoryProposals]:
    """Return the proposal for each task of the programme in force, in its order; a task on several
    notes moves as one, and its proposal names the note that speaks for it."""
    if history.programme is None:
        return []
    together: dict[tuple[str, str], list[PrescribedItem]] = {}
    for task in history.programme.tasks:
        together.setdefault((task.item_id or f"task-{task.key}", task.code), []).append(task)
    practice = _practice(history, today)
    found = []
    for notes in together.values():
        cases = [_case(history, task, practice, today=today) for task in notes]
        place, proposal = propose_together(cases, settings)
        found.append(HistoryProposals(ProposalSubject.TASK, proposal, notes[place]))
    return found


def _proposing_only(every: Iterable[HistoryProposals]) -> list[HistoryProposals]:
    """Return only proposals with a step; one that holds for every task only once."""
    found: list[HistoryProposals] = []
    seen: set[Reason] = set()
    for each in every:
        reason = each.proposal.reason
        about = (
            ProposalSubject.WHOLE
            if reason in OF_THE_WHOLE
            else ProposalSubject.BLOCK
            if reason in OF_THE_BLOCK
            else ProposalSubject.TASK
        )
        if each.proposal.step is Step.STAY or (
            about is not ProposalSubject.TASK and reason in seen
        ):
            continue
        seen.add(reason)
        found.append(replace(each, about=about))
    return sorted(found, key=lambda each: need_of(each.proposal))


def case_of(history: History, task: PrescribedItem, *, today: date) -> Case:
    """Return the case of one task on its note and sound."""
    return _case(history, task, _practice(history, today), today=today)


@dataclass(frozen=True, slots=True)
class _Practice:
    """Evidence shared by all tasks."""

    missed: int
    adherence: float | None
    has_recent_check_in: bool
    tired: tuple[int, int]
    before: Mapping[str, float]


def _practice(history: History, today: date) -> _Practice:
    contacted_at = last_decision_at(history, (Reason.DAYS_MISSED,))
    of_practice = last_decision_at(history, OF_PRACTICE)
    return _Practice(
        missed_in_a_row(
            history, today, asked_on=history.day(contacted_at) if contacted_at else None
        ),
        adherence_14(history, today),
        of_practice is not None and history.day(of_practice) > today - WINDOW,
        tired_sessions(history, last_decision_at(history, (Reason.TOO_TIRED,)), today),
        seconds_before(history.in_force, today),
    )


def _case(history: History, task: PrescribedItem, practice: _Practice, *, today: date) -> Case:
    kind = kind_of(task.measure)
    version = history.programme
    programme = version.programme if version else None
    taper = programme.taper if programme else None
    # Maintenance needs no next step.
    maintained = programme is not None and programme.sort == "maintenance"
    since, watched = since_of(history, task), watched_since(history, task)
    set_by = target_set_by(history, task)
    trials = history.trials_of(task)
    up, down = rung(task, by=1), rung(task, by=-1)
    of_power = task.code == POWER
    stall, room = (
        last_decision_at(history, STALLS, task),
        last_decision_at(history, OF_THE_ROOM, task),
    )
    strained = strain_times(history, task, trials)
    prescribed_items = askings_of(history, task)
    return Case(
        today=today,
        is_loud=task.is_loud,
        is_measured=kind.can_decide or is_task_judged(history, task, trials),
        since=history.day(since) if since else None,
        decline_since=watch_start(history, watched),
        trials=(
            *(earlier_trial(each) for each in history.earlier.get(task.series, ())),
            *(past_trial(history, task, each, since, set_by) for each in trials),
        ),
        efforts=answers_of(reports_of(history, "effort", task), since, watched),
        levels=tuple(
            LoudLevel(each.on, each.level_db, each.capture.get("device") or "")
            for each in trials
            if each.level_db is not None
        ),
        strained_on=tuple(history.day(at) for at in strained),
        newly_strained_on=tuple(history.day(at) for at in strained if since is None or at > since),
        cannot=tuple(
            str(report.key)
            for report in reports_of(history, "skipped", task)
            if report.value == "cant"
            and is_new(report, since)
            and version is not None
            and version.at <= report.at
            and report.on > today - WINDOW
        ),
        felt=tuple(
            FeltCheck(report.on, report.session or report.on, report.value)
            for report in reports_of(history, "felt", task)
            if is_new(report, since) and report.on > today - LONG_WINDOW
        ),
        bothers=answers_of(
            history.reports_about("bother"), None, last_decision_at(history, (Reason.BOTHER_UP,))
        ),
        open_flags=history.red_flags,
        tries_prescribed=task.tries_per_session,
        can_advance=up is not None,
        can_ease=down is not None,
        seconds_now=task.target_s,
        next_seconds=up.seconds if up else None,
        returns=count_returns(prescribed_items, up),
        was_moved_before=any(each.aims != task.aims for each in prescribed_items),
        is_at_goal=is_at_goal(history, task, is_maintained=maintained),
        seconds_a_week_ago=practice.before.get(task.item_key),
        is_capped=kind.has_weekly_cap,
        block_means=block_means(history) if of_power else (),
        goal_s=history.goal_s if of_power and not maintained else None,
        is_in_taper=taper is not None,
        taper_week=taper.week if taper and of_power else None,
        taper_since=taper.since if taper else None,
        peak_s=taper.peak_s if taper else None,
        same_target_since=None if maintained or set_by is None else set_by.on,
        last_session_on=history.last_on,
        due_days_missed=practice.missed,
        adherence_14=practice.adherence,
        has_recent_check_in=practice.has_recent_check_in,
        tired=practice.tired,
        has_recent_stall_check=stall is not None and history.day(stall) > today - MONTH,
        room_asked_on=history.day(room) if room else None,
    )
