"""Getting worse: shorter by more than chance and for good, harder, more in the way, or softer."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from statistics import fmean, median

from reedcore.progress import decline_of

from .case import Answer, Case
from .proposal import Proposal, Reason, Step
from .settings import Settings

_WEEK, _TWO_WEEKS = timedelta(days=7), timedelta(days=14)
#: A week's level is that of at least so many days.
_LEVEL_DAYS = 2
#: So many answers running, and what they are compared with: so many before them.
_RUNNING, _BEFORE = 2, 8


def getting_worse(case: Case, settings: Settings) -> Proposal | None:
    """In the soft school the answer is an easier rung and a call; in the loud one the target is
    effort, so it is a call and a cue. After two weeks of it, another look at the larynx."""
    return (
        _holds_shorter(case, settings)
        or _harder(case, settings)
        or _in_the_way(case, settings)
        or (_softer(case, settings) if case.loud else None)
    )


def _answer(
    case: Case,
    reason: Reason,
    facts: dict[str, float],
    *,
    since: date,
    rests_on: tuple[str, ...] = (),
) -> Proposal:
    if case.today - since >= _TWO_WEEKS:
        return Proposal(
            Step.LOOK_AGAIN, Reason.WORSE_FOR_TWO_WEEKS, rests_on=rests_on, facts=facts,
            otherwise=Step.CALL,
        )  # fmt: skip
    step = Step.CALL if case.loud or not case.eases else Step.EASE_AND_CALL
    return Proposal(step, reason, rests_on=rests_on, facts=facts, otherwise=Step.LOOK_AGAIN)


def _holds_shorter(case: Case, settings: Settings) -> Proposal | None:
    found = decline_of(
        case.daily_longest(),
        today=case.today,
        share=settings.worse_share,
        least_days=settings.worse_days,
    )
    if found is None or not found.confirmed(after=case.since):
        return None
    recent = tuple(trial.key for trial in case.trials if case.today - trial.on < _WEEK)
    facts = {"now_s": found.now, "usual_s": found.usual}
    return _answer(case, Reason.HOLDS_SHORTER, facts, since=found.days[0], rests_on=recent)


@dataclass(frozen=True, slots=True)
class _Run:
    """Answers in a row, so far from those before; ``anew`` of them nobody has decided on."""

    first: date
    now: float
    before: float
    anew: int


def _run(answers: Sequence[Answer], *, by: float, least: float = 0.0) -> _Run | None:
    """The longest run up to the last answer that lies so far over (or under) what was before."""
    found = None
    for start in range(len(answers) - 1, 0, -1):
        before = median(each.value for each in answers[max(0, start - _BEFORE) : start])
        run = answers[start:]
        far = all(
            (each.value - before >= by if by > 0 else each.value - before <= by)
            and each.value >= least
            for each in run
        )
        if far and len(run) >= _RUNNING:
            anew = sum(each.anew for each in run)
            found = _Run(run[0].on, fmean(each.value for each in run[-_RUNNING:]), before, anew)
    return found


def _harder(case: Case, settings: Settings) -> Proposal | None:
    """Effort up on a soft task; down on a loud one."""
    if case.loud:
        run, reason = _run(case.efforts, by=-settings.effort_rise), Reason.EFFORT_DOWN
    else:
        run = _run(case.efforts, by=settings.effort_rise, least=settings.effort_from)
        reason = Reason.EFFORT_UP
    if run is None or run.anew < _RUNNING:
        return None
    return _answer(case, reason, {"now": run.now, "before": run.before}, since=run.first)


def _in_the_way(case: Case, settings: Settings) -> Proposal | None:
    run = _run(case.bothers, by=settings.effort_rise)
    if run is None or run.anew < _RUNNING:
        return None
    facts = {"now": run.now, "before": run.before}
    return _answer(case, Reason.BOTHER_UP, facts, since=run.first)


def _softer(case: Case, settings: Settings) -> Proposal | None:
    """The week against the week before, on the device of now: levels of two are never compared."""
    device = case.levels[-1].device if case.levels else ""
    weeks: tuple[dict[date, list[float]], dict[date, list[float]]] = ({}, {})
    for each in case.levels:
        ago = (case.today - each.on).days // 7
        if each.device == device and 0 <= ago < len(weeks):
            weeks[ago].setdefault(each.on, []).append(each.db)
    if case.since is not None:
        for day in [day for day in weeks[0] if day <= case.since]:
            del weeks[0][day]
    if any(len(week) < _LEVEL_DAYS for week in weeks):
        return None
    now, before = (fmean(fmean(levels) for levels in week.values()) for week in weeks)
    if before - now < settings.level_drop_db:
        return None
    facts = {"now_db": now, "before_db": before}
    return _answer(case, Reason.LEVEL_DOWN, facts, since=min(weeks[0]))
