"""Swap and ease: the task cannot be done, is too much, or strains."""

from __future__ import annotations

from datetime import timedelta

from .case import Case, count_days, judged_trials, share_on_target
from .proposal import Proposal, Reason, Step
from .settings import Settings
from .settling import misses_by_more_than_chance, sessions_before

_WEEK = timedelta(days=7)
#: Minimum judged trials and days for a share: one occasion is not a trend.
LEAST_TRIALS, LEAST_DAYS = 4, 2
#: Consecutive sessions with too much effort.
_HARD_SESSIONS = 2


def swap(case: Case, settings: Settings) -> Proposal | None:
    """Propose a swap after two reports that it cannot be done, or six tries in a row that felt
    nothing."""
    if case.is_in_taper:
        return None  # In the taper only safety and the taper's own steps apply.
    if len(case.cannot) >= settings.cannot:
        return Proposal(
            Step.SWAP, Reason.CANNOT_DO_IT, evidence=case.cannot,
            facts={"times": float(len(case.cannot))}, otherwise=Step.EASE,
        )  # fmt: skip
    last = [each.answer for each in case.felt[-settings.unfelt :]]
    if len(last) == settings.unfelt and "yes" not in last:
        facts = {"times": float(len(last))}
        return Proposal(Step.SWAP, Reason.NOT_FELT, facts=facts, otherwise=Step.EASE)
    return None


def ease(case: Case, settings: Settings) -> Proposal | None:
    """Propose an easier rung after strain, too much effort on a soft task, or too few trials on
    target."""
    last = case.judged_sessions()
    newest = tuple(trial for session in last[-settings.ease_sessions :] for trial in session)
    keys = tuple(trial.key for trial in newest)
    strained = sum(case.today - day < _WEEK for day in case.newly_strained_on)
    if strained >= settings.strains:
        facts = {"times": float(strained)}
        return _ease_by_one(case, Reason.STRAIN_SAID, keys, facts, Step.CHECK_IN)
    efforts = list(case.efforts_by_session().values())[-_HARD_SESSIONS:]
    hard = len(efforts) == _HARD_SESSIONS and min(efforts) >= settings.hard_effort
    if not case.is_loud and hard:
        return _ease_by_one(case, Reason.EFFORT_HIGH, keys, {"effort": min(efforts)}, Step.SWAP)
    if case.is_in_taper:
        return None  # In the taper no target in seconds is eased.
    share, counted = share_on_target(newest), judged_trials(newest)
    if len(last) < settings.ease_sessions or share is None or share >= settings.ease_share:
        return None
    if len(counted) < LEAST_TRIALS or count_days(counted) < LEAST_DAYS:
        return None
    if not misses_by_more_than_chance(case, last, sessions_before(case, settings.ease_sessions)):
        return None
    met = sum(bool(trial.was_on_target) for trial in counted)
    facts = {
        "share": share,
        "met": float(met),
        "trials": float(len(counted)),
        "days": float(count_days(counted)),
    }
    return _ease_by_one(case, Reason.FEW_ON_TARGET, keys, facts, Step.STAY)


def _ease_by_one(
    case: Case,
    reason: Reason,
    keys: tuple[str, ...],
    facts: dict[str, float],
    otherwise: Step,
) -> Proposal:
    """Propose one rung down; at the bottom of the ladder, ask the clinician to review instead."""
    if not case.can_ease or case.is_in_taper:
        return Proposal(Step.CHECK_IN, reason, evidence=keys, facts=facts, otherwise=Step.SWAP)
    return Proposal(Step.EASE, reason, evidence=keys, facts=facts, otherwise=otherwise)


def recent_strains(case: Case) -> int:
    """Return how often in seven days strain was reported after the task or stopped its session;
    decisions do not reset it."""
    return sum(case.today - day < _WEEK for day in case.strained_on)
