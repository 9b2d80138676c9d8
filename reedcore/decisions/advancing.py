"""Advance: most on target, at the effort that the school asks for, and never too fast."""

from __future__ import annotations

from .case import LONG_WINDOW, Case, PastTrial, count_days, judged_trials, share_on_target
from .easing import recent_strains
from .presence import is_present
from .proposal import Proposal, Reason, Step
from .settings import Settings
from .settling import evidence_factor, is_sinking, share_needed, shows_next

#: Below this target, always advance at least one rung, s.
SMALL_TARGET_S = 3.0
_SLACK = 1e-9


def advance(case: Case, settings: Settings) -> Proposal | None:
    """Propose one rung up, or to stay with the reason against it."""
    if case.is_in_taper or not is_present(case, settings):
        return None
    found = _mostly_on_target(case, settings) if case.is_measured else _felt_right(case, settings)
    if found is None:
        return None
    reason, facts, keys = found
    against = _against(case, settings)
    if against is not None:
        return Proposal(Step.STAY, against, evidence=keys, facts=facts)
    return Proposal(Step.ADVANCE, reason, evidence=keys, facts=facts, to_seconds=case.next_seconds)


def _against(case: Case, settings: Settings) -> Reason | None:
    """Return the most important reason against the next rung, if any."""
    if recent_strains(case):
        return Reason.STRAIN_LATELY
    effort = _effort_is_against(case, settings)
    if effort is not None:
        return effort
    if is_sinking(case, settings):
        return Reason.SINKING
    if case.is_at_goal:
        return Reason.AT_ITS_GOAL
    if not case.can_advance:
        return Reason.TOP_OF_LADDER
    if case.is_measured and not shows_next(case, case.current_trials(LONG_WINDOW)):
        return Reason.NEXT_NOT_SHOWN
    return Reason.ENOUGH_THIS_WEEK if _is_too_fast(case, settings) else None


def _is_too_fast(case: Case, settings: Settings) -> bool:
    """Return whether an increase exceeds a fifth within seven days; from a very small target, one
    rung is allowed."""
    before, to = case.seconds_a_week_ago, case.next_seconds
    if not case.is_capped or before is None or to is None or before < SMALL_TARGET_S:
        return False
    return to > before * (1.0 + settings.weekly_cap) + _SLACK


_Found = tuple[Reason, dict[str, float], tuple[str, ...]]


def _mostly_on_target(case: Case, settings: Settings) -> _Found | None:
    trials = _enough(case, settings)
    share = share_on_target(trials)
    if share is None or share < share_needed(case, settings) - _SLACK:
        return None
    counted = judged_trials(trials)
    facts = {
        "share": share,
        "met": float(sum(bool(trial.was_on_target) for trial in counted)),
        "trials": float(len(counted)),
        "days": float(count_days(counted)),
    }
    return Reason.MOST_ON_TARGET, facts, tuple(trial.key for trial in trials)


def _felt_right(case: Case, settings: Settings) -> _Found | None:
    last = case.felt[-settings.advance_sessions :]
    sessions, days = {each.session for each in last}, {each.on for each in last}
    if len(sessions) < settings.advance_sessions or len(days) < settings.advance_days:
        return None
    if any(each.answer != "yes" for each in last):
        return None
    return Reason.FELT_RIGHT, {"times": float(len(last)), "days": float(len(days))}, ()


def _enough(case: Case, settings: Settings) -> tuple[PastTrial, ...]:
    """Return the trials that an advance can be based on; empty if there are too few."""
    factor = evidence_factor(case)
    window = factor * LONG_WINDOW
    sessions = case.judged_sessions(window)
    if case.tries_prescribed < settings.advance_trials:
        trials = judged_trials(trial for session in sessions for trial in session)
        last = trials[-factor * settings.few_trials :]
        enough = len(last) == factor * settings.few_trials and count_days(last) >= settings.few_days
        return last if enough else ()
    sessions_needed = factor * settings.advance_sessions
    if len(sessions) < sessions_needed:
        return ()
    sessions = sessions[-sessions_needed:]
    trials = tuple(trial for session in sessions for trial in session)
    whole = all(len(judged_trials(session)) >= settings.advance_trials for session in sessions)
    return trials if whole and count_days(trials) >= settings.advance_days else ()


def _effort_is_against(case: Case, settings: Settings) -> Reason | None:
    """Return whether effort was too high in any session that counts; unknown effort blocks an
    advance as well."""
    known = case.efforts_by_session(LONG_WINDOW)
    sessions = _sessions_of(case, settings)
    if not sessions or any(each not in known for each in sessions):
        return Reason.EFFORT_NOT_ASKED
    values = [known[each] for each in sessions]
    if case.is_loud:
        return Reason.EFFORT_TOO_LOW if min(values) < settings.loud_effort else None
    return Reason.EFFORT_TOO_HIGH if max(values) > settings.soft_effort else None


def _sessions_of(case: Case, settings: Settings) -> list[object]:
    """Return the last sessions with the task."""
    if case.is_measured:
        found = [each[0].session for each in case.judged_sessions(LONG_WINDOW)]
    else:
        found = list(dict.fromkeys(each.session for each in case.felt))
    return found[-settings.advance_sessions :]
