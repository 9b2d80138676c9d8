"""Swap and ease: the task cannot be done, is too much, or strains."""

from __future__ import annotations

from datetime import timedelta

from .case import Case, days_of, judged, share_on_target
from .proposal import Proposal, Reason, Step
from .settings import Settings

_WEEK = timedelta(days=7)
#: A share rests on so many judged trials, on so many days: one occasion is not a trend.
LEAST_TRIALS, LEAST_DAYS = 4, 2
#: Effort too high in so many sessions running.
_HARD_SESSIONS = 2


def swap(case: Case, settings: Settings) -> Proposal | None:
    """The client says twice that it cannot be done, or feels nothing of it six times running."""
    if len(case.cannot) >= settings.cannot:
        return Proposal(
            Step.SWAP, Reason.CANNOT_DO_IT, rests_on=case.cannot,
            facts={"times": float(len(case.cannot))}, otherwise=Step.EASE,
        )  # fmt: skip
    last = [each.answer for each in case.felt[-settings.unfelt :]]
    if len(last) == settings.unfelt and "yes" not in last:
        facts = {"times": float(len(last))}
        return Proposal(Step.SWAP, Reason.NOT_FELT, facts=facts, otherwise=Step.EASE)
    return None


def ease(case: Case, settings: Settings) -> Proposal | None:
    """Strain, too much effort on a soft task, or too few on target."""
    last = case.sessions()[-settings.ease_sessions :]
    trials = tuple(trial for session in last for trial in session)
    keys = tuple(trial.key for trial in trials)
    strained = strains_lately(case)
    if strained >= settings.strains:
        facts = {"times": float(strained)}
        return _eased(case, Reason.STRAIN_SAID, keys, facts, Step.CHECK_IN)
    efforts = case.efforts_of_now()[-_HARD_SESSIONS:]
    hard = len(efforts) == _HARD_SESSIONS and min(efforts) >= settings.hard_effort
    if not case.loud and hard:
        return _eased(case, Reason.EFFORT_HIGH, keys, {"effort": min(efforts)}, Step.SWAP)
    if case.taper_week is not None:
        return None  # within the taper no target in seconds eases
    share, counted = share_on_target(trials), judged(trials)
    if len(last) < settings.ease_sessions or share is None or share >= settings.ease_share:
        return None
    if len(counted) < LEAST_TRIALS or days_of(counted) < LEAST_DAYS:
        return None
    return _eased(case, Reason.FEW_ON_TARGET, keys, {"share": share}, Step.STAY)


def _eased(
    case: Case,
    reason: Reason,
    keys: tuple[str, ...],
    facts: dict[str, float],
    otherwise: Step,
) -> Proposal:
    """One rung down; at the foot of its ladder there is none, and somebody looks at it instead."""
    if not case.eases:
        return Proposal(Step.CHECK_IN, reason, rests_on=keys, facts=facts, otherwise=Step.SWAP)
    return Proposal(Step.EASE, reason, rests_on=keys, facts=facts, otherwise=otherwise)


def strains_lately(case: Case) -> int:
    """How often in seven days strain was said after it, or stopped a session that held it."""
    days = (*case.strained_on, *case.stopped_on)
    return sum(case.today - day < _WEEK for day in days)
