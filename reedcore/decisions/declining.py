"""Getting worse: shorter by more than chance and for good, harder, more in the way, or softer.

A decline is watched apart: its evidence is reset by a decision about a decline, by a change of what
is compared and by the client's return after a break, and by nothing else.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from statistics import fmean, median

from reedcore.progress import decline_of

from .case import WINDOW, Case, ScaleAnswer
from .proposal import Proposal, Reason, Step
from .settings import Settings

_WEEK, _TWO_WEEKS = timedelta(days=7), timedelta(days=14)
#: Answers are compared with those of four weeks, at least a week old.
_USUAL = timedelta(days=35)
#: Minimum days for a weekly level.
_LEVEL_DAYS = 2
#: Consecutive answers needed; and the number before them to compare with while none is a week old.
_RUNNING, _BEFORE = 2, 8


def getting_worse(case: Case, settings: Settings) -> Proposal | None:
    """Propose for soft tasks an easier rung and a call; for loud tasks, whose target is effort, a
    call and a cue. After two weeks of decline, propose a laryngeal exam."""
    return (
        (None if case.is_in_taper else _holds_shorter(case, settings))
        or _harder(case, settings)
        or _bother_declines(case, settings)
        or (_softer(case, settings) if case.is_loud else None)
    )


def _answer(
    case: Case,
    reason: Reason,
    facts: dict[str, float],
    *,
    since: date,
    evidence: tuple[str, ...] = (),
) -> Proposal:
    if case.today - since >= _TWO_WEEKS:
        return Proposal(
            Step.LOOK_AGAIN, Reason.WORSE_FOR_TWO_WEEKS, evidence=evidence, facts=facts,
            otherwise=Step.CALL,
        )  # fmt: skip
    is_call = case.is_loud or case.is_in_taper or not case.can_ease
    step = Step.CALL if is_call else Step.EASE_AND_CALL
    return Proposal(step, reason, evidence=evidence, facts=facts, otherwise=Step.LOOK_AGAIN)


def _holds_shorter(case: Case, settings: Settings) -> Proposal | None:
    found = decline_of(
        case.daily_longest(),
        today=case.today,
        share=settings.worse_share,
        least_days=settings.worse_days,
        at_least=case.days_stopped_short(),
    )
    if found is None or not found.is_confirmed(after=case.decline_since):
        return None
    recent = tuple(trial.key for trial in case.trials if case.today - trial.on < _WEEK)
    facts = {"now_s": found.now, "usual_s": found.usual, "days": float(len(found.days))}
    return _answer(case, Reason.HOLDS_SHORTER, facts, since=found.days[0], evidence=recent)


@dataclass(frozen=True, slots=True)
class _AnswerRun:
    """Consecutive answers this far from the usual one; ``current_trials`` counts those of the last
    fortnight since the last decision about a decline."""

    first: date
    now: float
    before: float
    current_trials: int


def _strongest_per_session(
    answers: Iterable[ScaleAnswer], *, is_highest: bool
) -> list[ScaleAnswer]:
    """Return one answer per session, the more extreme one: two answers in one session are one
    event."""
    worse = max if is_highest else min
    found: dict[object, ScaleAnswer] = {}
    for each in answers:
        key = each.on if each.session is None else each.session
        before = found.get(key)
        found[key] = each if before is None else worse(before, each, key=lambda one: one.value)
    return list(found.values())


def _usual_answer(answers: Sequence[ScaleAnswer], start: int) -> float:
    """Return the usual value before a run that ends with the last answer."""
    newest = answers[-1].on
    older = [
        each.value for each in answers[:start] if _WEEK <= newest - each.on < _USUAL
    ]  # Otherwise slowly rising answers would become the usual.
    if len(older) < _RUNNING:
        older = [each.value for each in answers[max(0, start - _BEFORE) : start]]
    return median(older)


def _longest_run(
    case: Case, answers: Sequence[ScaleAnswer], *, by: float, least: float = 0.0
) -> _AnswerRun | None:
    """Return the longest run up to the last answer that is this far above (or below) the usual one.
    Only answers of the last fortnight are current."""
    found = None
    for start in range(len(answers) - 1, 0, -1):
        before = _usual_answer(answers, start)
        run = answers[start:]
        far = all(
            (each.value - before >= by if by > 0 else each.value - before <= by)
            and each.value >= least
            for each in run
        )
        current_trials = [each for each in run if each.is_watched and each.on > case.today - WINDOW]
        if far and len(run) >= _RUNNING:
            now = fmean(each.value for each in run[-_RUNNING:])
            found = _AnswerRun(run[0].on, now, before, len(current_trials))
    return found if found is not None and found.current_trials >= _RUNNING else None


def _harder(case: Case, settings: Settings) -> Proposal | None:
    """Propose a step if effort rises on a soft task, or falls on a loud one."""
    answers = _strongest_per_session(case.efforts, is_highest=not case.is_loud)
    if case.is_loud:
        run, reason = _longest_run(case, answers, by=-settings.effort_rise), Reason.EFFORT_DOWN
    else:
        run = _longest_run(case, answers, by=settings.effort_rise, least=settings.effort_from)
        reason = Reason.EFFORT_UP
    if run is None:
        return None
    return _answer(case, reason, {"now": run.now, "before": run.before}, since=run.first)


def _bother_declines(case: Case, settings: Settings) -> Proposal | None:
    run = _longest_run(
        case, _strongest_per_session(case.bothers, is_highest=True), by=settings.effort_rise
    )
    if run is None:
        return None
    facts = {"now": run.now, "before": run.before}
    return _answer(case, Reason.BOTHER_UP, facts, since=run.first)


def _softer(case: Case, settings: Settings) -> Proposal | None:
    """Compare the last week with the week before on the current device; levels of two devices are
    never compared."""
    device = case.levels[-1].device if case.levels else ""
    weeks: tuple[dict[date, list[float]], dict[date, list[float]]] = ({}, {})
    for each in case.levels:
        ago = (case.today - each.on).days // 7
        if each.device == device and 0 <= ago < len(weeks):
            weeks[ago].setdefault(each.on, []).append(each.db)
    if case.decline_since is not None:
        for day in [day for day in weeks[0] if day <= case.decline_since]:
            del weeks[0][day]
    if any(len(week) < _LEVEL_DAYS for week in weeks):
        return None
    now, before = (fmean(fmean(levels) for levels in week.values()) for week in weeks)
    if before - now < settings.level_drop_db:
        return None
    facts = {"now_db": now, "before_db": before}
    return _answer(case, Reason.LEVEL_DOWN, facts, since=min(weeks[0]))
