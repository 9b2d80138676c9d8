"""The rules in their order: safety before progress. Each returns a proposal or None.

Red flag → getting worse → swap → ease → check in → block complete (and its taper) → advance;
otherwise stay, with the reason (DOMAIN §6).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

from .advancing import advance
from .block import block_complete
from .case import LONG_WINDOW, Case, judged_trials, share_on_target
from .contact import check_in
from .declining import getting_worse
from .easing import ease, swap
from .presence import is_present
from .proposal import Proposal, Reason, Step
from .settings import Settings
from .settling import evidence_factor, share_needed

Rule = Callable[[Case, Settings], Proposal | None]


def red_flag_open(case: Case, settings: Settings) -> Proposal | None:
    """Propose nothing else while a red flag is open."""
    if not case.open_flags:
        return None
    return Proposal(Step.STOP_AND_REFER, Reason.RED_FLAG_OPEN, evidence=case.open_flags)


RULES: tuple[Rule, ...] = (
    red_flag_open,
    getting_worse,
    swap,
    ease,
    check_in,
    block_complete,
    advance,
)


def propose(case: Case, settings: Settings | None = None) -> Proposal:
    """Return the proposal of the first rule that applies; otherwise to stay."""
    _, found = propose_together((case,), settings)
    return found


def propose_together(
    cases: Sequence[Case], settings: Settings | None = None
) -> tuple[int, Proposal]:
    """Return the proposal for one item practised on several notes: it moves as one.

    Returns:
        Which of the cases speaks (the worst of them), and the proposal. One note is enough to be
        worse, to swap or to ease; only all of them together advance.
    """
    settings = settings or Settings()
    for rule in RULES:
        proposals = [
            (place, found)
            for place, case in enumerate(cases)
            if (found := rule(case, settings)) is not None
        ]
        if rule is advance and len(proposals) < len(cases):
            continue
        if proposals:
            return min(proposals, key=_worst)
    return 0, _stay(cases[0], settings)


def _worst(found: tuple[int, Proposal]) -> tuple[bool, float, int]:
    """Sort tasks to hold before tasks to advance, then by share, then by note."""
    place, proposal = found
    return proposal.step is Step.ADVANCE, proposal.facts.get("share", 0.0), place


def _stay(case: Case, settings: Settings) -> Proposal:
    """Return that nothing is proposed, with the reason; a task is never on course without one."""
    if not case.trials and not case.felt:
        return Proposal(Step.STAY, Reason.NOT_BEGUN)
    if not is_present(case, settings):
        return Proposal(Step.STAY, Reason.ABSENT)
    if case.is_in_taper:
        return Proposal(Step.STAY, Reason.IN_TAPER)
    if not case.is_measured:
        return Proposal(Step.STAY, Reason.FELT_CHECK, facts={"times": float(len(case.felt))})
    sessions = case.judged_sessions(LONG_WINDOW)
    sessions_needed = evidence_factor(case) * settings.advance_sessions
    if len(sessions) < sessions_needed:
        facts = {"sessions": float(len(sessions)), "wanted": float(sessions_needed)}
        return Proposal(Step.STAY, Reason.MORE_SESSIONS, facts=facts)
    trials = judged_trials(trial for session in sessions[-sessions_needed:] for trial in session)
    facts = {
        "share": share_on_target(trials) or 0.0,
        "met": float(sum(bool(trial.was_on_target) for trial in trials)),
        "trials": float(len(trials)),
        "needed": share_needed(case, settings),
    }
    return Proposal(Step.STAY, Reason.BETWEEN, facts=facts)
