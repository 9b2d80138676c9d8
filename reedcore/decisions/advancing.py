"""Advance: most on target, at the effort that the school asks for, and never too fast."""

from __future__ import annotations

from .case import LONG_WINDOW, Case, PastTrial, days_of, judged, share_on_target
from .contact import is_present
from .easing import strains_lately
from .proposal import Proposal, Reason, Step
from .settings import Settings

#: From targets under this, always at least one rung, s.
SMALL_TARGET_S = 3.0
_SLACK = 1e-9


def advance(case: Case, settings: Settings) -> Proposal | None:
    """One rung up; or to stay, with the reason, where only the ladder or the week is against it."""
    if case.taper_week is not None or strains_lately(case) or not is_present(case, settings):
        return None
    found = _on_target(case, settings) if case.measured else _felt_right(case, settings)
    if found is None or not _effort_allows(case, settings):
        return None
    reason, facts, keys = found
    if not case.climbs:
        return Proposal(Step.STAY, Reason.TOP_OF_LADDER, rests_on=keys, facts=facts)
    if _too_fast(case, settings):
        return Proposal(Step.STAY, Reason.ENOUGH_THIS_WEEK, rests_on=keys, facts=facts)
    return Proposal(Step.ADVANCE, reason, rests_on=keys, facts=facts, to_seconds=case.next_seconds)


def _too_fast(case: Case, settings: Settings) -> bool:
    """More than a fifth within any seven days; from a very small target one rung is always fair."""
    before, to = case.seconds_a_week_ago, case.next_seconds
    if not case.capped or before is None or to is None or before < SMALL_TARGET_S:
        return False
    return to > before * (1.0 + settings.weekly_cap) + _SLACK


_Found = tuple[Reason, dict[str, float], tuple[str, ...]]


def _on_target(case: Case, settings: Settings) -> _Found | None:
    trials = _enough(case, settings)
    share = share_on_target(trials)
    if share is None or share < settings.advance_share:
        return None
    facts = {"share": share, "trials": float(len(judged(trials)))}
    return Reason.MOST_ON_TARGET, facts, tuple(trial.key for trial in trials)


def _felt_right(case: Case, settings: Settings) -> _Found | None:
    last = case.felt[-settings.advance_sessions :]
    sessions, days = {each.session for each in last}, {each.on for each in last}
    if len(sessions) < settings.advance_sessions or len(days) < settings.advance_days:
        return None
    if any(each.answer != "yes" for each in last):
        return None
    return Reason.FELT_RIGHT, {"times": float(len(last))}, ()


def _enough(case: Case, settings: Settings) -> tuple[PastTrial, ...]:
    """The trials that an advance may rest on; empty where there are too few."""
    if case.tries_prescribed < settings.advance_trials:
        last = judged(case.of_now(LONG_WINDOW))[-settings.few_trials :]
        enough = len(last) == settings.few_trials and days_of(last) >= settings.few_days
        return last if enough else ()
    sessions = case.sessions(LONG_WINDOW)[-settings.advance_sessions :]
    trials = tuple(trial for session in sessions for trial in session)
    whole = all(len(judged(session)) >= settings.advance_trials for session in sessions)
    if len(sessions) < settings.advance_sessions or days_of(trials) < settings.advance_days:
        return ()
    return trials if whole else ()


def _effort_allows(case: Case, settings: Settings) -> bool:
    """In each of the sessions. Not asked is not known, and lets nothing advance."""
    recent = case.efforts_of_now(LONG_WINDOW)[-settings.advance_sessions :]
    if len(recent) < settings.advance_sessions:
        return False
    if case.loud:
        return min(recent) >= settings.loud_effort
    return max(recent) <= settings.soft_effort
