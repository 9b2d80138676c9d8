"""Check in: nothing could be judged, too little practice, too tired, too little evidence, or a
stall."""

from __future__ import annotations

from datetime import timedelta

from .advancing import advance
from .case import (
    LONG_WINDOW,
    MONTH,
    WINDOW,
    Case,
    count_days,
    is_judged,
    judged_trials,
    share_on_target,
)
from .presence import is_present
from .proposal import Proposal, Reason, Step
from .settings import Settings

#: Minimum sessions per fortnight before a share is reported.
_LEAST_SESSIONS = 4
#: Successful at one target for this long, in this many sessions, without a next step: ask for a
#: look.
_STALLED_AFTER, _STALLED_SESSIONS = timedelta(days=14), 6
#: Fewer sessions in three weeks are too few for a decision.
_SELDOM_SESSIONS = 3
#: Practised days at one target after which it is reported regardless of the trend.
_NOWHERE_DAYS = 28
#: Lasting reasons that keep a successful client from the next rung.
_STALLS = (
    Reason.EFFORT_NOT_ASKED,
    Reason.EFFORT_TOO_HIGH,
    Reason.EFFORT_TOO_LOW,
    Reason.NEXT_NOT_SHOWN,
    Reason.SINKING,
    Reason.TOP_OF_LADDER,
    Reason.AT_ITS_GOAL,
)


def check_in(case: Case, settings: Settings) -> Proposal | None:
    """Propose to ask the client; not again until its own window has passed."""
    if case.due_days_missed >= settings.missed_days:
        facts = {"days": float(case.due_days_missed)}
        return Proposal(Step.CHECK_IN, Reason.DAYS_MISSED, facts=facts)
    low = case.adherence_14 is not None and case.adherence_14 < settings.low_adherence
    if low and not case.has_recent_check_in:
        facts = {"adherence": case.adherence_14 or 0.0}
        return Proposal(Step.CHECK_IN, Reason.ADHERENCE_LOW, facts=facts, otherwise=Step.EASE)
    if case.is_in_taper:
        return None
    tired, sessions = case.tired
    if sessions >= _LEAST_SESSIONS and tired >= settings.tired_share * sessions:
        facts = {"times": float(tired), "sessions": float(sessions)}
        return Proposal(Step.CHECK_IN, Reason.TOO_TIRED, facts=facts, otherwise=Step.EASE)
    return (
        _rarely_judged(case, settings) or _ask_about_stall(case, settings) or _stuck(case, settings)
    )


def _rarely_judged(case: Case, settings: Settings) -> Proposal | None:
    """Ask if there was practice but too little could be judged: a room, a microphone, a setting."""
    if not case.is_measured:
        return None
    asked_on = case.room_asked_on
    since = [each for each in case.sessions() if asked_on is None or each[0].on > asked_on]
    recent = since[-settings.unheard_sessions :]
    if len(recent) < settings.unheard_sessions or any(is_judged(each) for each in recent):
        return None
    trials = tuple(trial for session in recent for trial in session)
    known = judged_trials(trials)
    facts = {
        "sessions": float(len(recent)),
        "judged": float(len(known)),
        "trials": float(len(trials)),
    }
    reason = Reason.MUCH_NOT_JUDGED if known else Reason.NOTHING_JUDGED
    keys = tuple(trial.key for trial in trials)
    return Proposal(Step.CHECK_IN, reason, evidence=keys, facts=facts)


def _ask_about_stall(case: Case, settings: Settings) -> Proposal | None:
    """Ask about a task that meets every criterion but is held back by a lasting reason."""
    since = case.same_target_since
    if since is None or case.has_recent_stall_check or case.today - since < _STALLED_AFTER:
        return None
    sessions = len({trial.session for trial in case.current_trials(WINDOW)}) or len(case.felt)
    found = advance(case, settings)
    if sessions < _STALLED_SESSIONS or found is None or found.reason not in _STALLS:
        return None
    days = float((case.today - since).days)
    return Proposal(
        Step.CHECK_IN, found.reason, evidence=found.evidence, facts={**found.facts, "since": days}
    )


def _stuck(case: Case, settings: Settings) -> Proposal | None:
    """Ask after weeks of good practice at one target without reaching it."""
    since = case.same_target_since
    if (
        since is None
        or case.has_recent_stall_check
        or (case.today - since).days < settings.stuck_days
    ):
        return None
    recent = case.sessions(timedelta(days=settings.stuck_days))
    if case.is_measured and _sessions_of(case, LONG_WINDOW) < _SELDOM_SESSIONS:
        return _ask_about_seldom_practice(case, settings)
    trials = tuple(trial for session in recent for trial in session)
    share = share_on_target(trials)
    if share is None or share >= settings.advance_share:
        return None
    plateau = len(recent) >= settings.stuck_sessions and case.is_rising() is False
    nowhere = count_days(trial for trial in case.trials if trial.on >= since) >= _NOWHERE_DAYS
    if not plateau and not nowhere:
        return None
    facts = {"share": share, "days": float(settings.stuck_days), "sessions": float(len(recent))}
    keys = tuple(trial.key for trial in trials)
    return Proposal(Step.CHECK_IN, Reason.STUCK, evidence=keys, facts=facts, otherwise=Step.EASE)


def _sessions_of(case: Case, window: timedelta) -> int:
    """Return how many there were, regardless of decisions made since."""
    first = case.today - window
    return len({trial.session for trial in case.trials if trial.on > first})


def _ask_about_seldom_practice(case: Case, settings: Settings) -> Proposal | None:
    """Propose contact if practice is as frequent as prescribed but too rare for a decision."""
    sessions = _sessions_of(case, MONTH)
    if not sessions or not is_present(case, settings):
        return None
    return Proposal(Step.CHECK_IN, Reason.TOO_SELDOM, facts={"sessions": float(sessions)})
