"""Check in: nothing heard, too little, too tired, nothing to judge, or no way on."""

from __future__ import annotations

from datetime import timedelta

from .case import Case, judged, share_on_target
from .proposal import Proposal, Reason, Step
from .settings import Settings

#: Sessions of a fortnight of which a share is worth a word.
_LEAST_SESSIONS = 4
_PRESENT = timedelta(days=7)


def is_present(case: Case, settings: Settings) -> bool:
    """Practised in the last seven days, and enough of the last fortnight: the absent are not on
    course, and nothing of theirs goes on."""
    last, kept = case.last_session_on, case.adherence_14
    lately = last is not None and case.today - last < _PRESENT
    return lately and (kept is None or kept >= settings.low_adherence)


def check_in(case: Case, settings: Settings) -> Proposal | None:
    """Asks how it is going; once asked, not again until its own window has passed."""
    if case.due_days_missed >= settings.missed_days:
        facts = {"days": float(case.due_days_missed)}
        return Proposal(Step.CHECK_IN, Reason.DAYS_MISSED, facts=facts)
    low = case.adherence_14 is not None and case.adherence_14 < settings.low_adherence
    if low and not case.checked_in:
        facts = {"adherence": case.adherence_14 or 0.0}
        return Proposal(Step.CHECK_IN, Reason.ADHERENCE_LOW, facts=facts, otherwise=Step.EASE)
    tired, sessions = case.tired
    if sessions >= _LEAST_SESSIONS and tired >= settings.tired_share * sessions:
        facts = {"times": float(tired), "sessions": float(sessions)}
        return Proposal(Step.CHECK_IN, Reason.TOO_TIRED, facts=facts, otherwise=Step.EASE)
    return _unheard(case, settings) or _stuck(case, settings)


def _unheard(case: Case, settings: Settings) -> Proposal | None:
    """Practised, but nothing of it could be judged: a room, a microphone, a setting."""
    if not case.measured:
        return None
    lately = case.sessions()[-settings.unheard_sessions :]
    trials = tuple(trial for session in lately for trial in session)
    if len(lately) < settings.unheard_sessions or judged(trials):
        return None
    return Proposal(
        Step.CHECK_IN, Reason.NOTHING_JUDGED, rests_on=tuple(trial.key for trial in trials),
        facts={"sessions": float(len(lately))},
    )  # fmt: skip


def _stuck(case: Case, settings: Settings) -> Proposal | None:
    """Well practised under one target for weeks, not reaching it, and not on the rise."""
    since = case.same_target_since
    if since is None or (case.today - since).days < settings.stuck_days:
        return None
    lately = case.sessions(timedelta(days=settings.stuck_days))
    if len(lately) < settings.stuck_sessions:
        return None
    trials = tuple(trial for session in lately for trial in session)
    share = share_on_target(trials)
    if share is None or share >= settings.advance_share or case.is_rising() is not False:
        return None
    facts = {"share": share, "days": float((case.today - since).days)}
    return Proposal(
        Step.CHECK_IN, Reason.STUCK, rests_on=tuple(trial.key for trial in trials), facts=facts,
        otherwise=Step.EASE,
    )  # fmt: skip
