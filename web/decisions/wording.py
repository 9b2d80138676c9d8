"""What is proposed and why, in sentences with their figures."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from reedcore.decisions import Need, Reason, Step
from reedcore.decisions.of_history import RUNGS

if TYPE_CHECKING:
    from reedcore.decisions.proposal import Proposal

STEPS = {
    Step.STOP_AND_REFER: "Stop and refer",
    Step.EASE_AND_CALL: "Ease one step and contact the client",
    Step.CALL: "Contact the client and give a cue",
    Step.LOOK_AGAIN: "Repeat the laryngeal examination",
    Step.SWAP: "Swap the task",
    Step.EASE: "Ease one step",
    Step.START_TAPER: "Start the taper",
    Step.TAPER_ON: "Taper: next step",
    Step.TAPER_BACK: "Taper: one step back",
    Step.MAINTAIN: "Maintenance with a recheck date",
    Step.ADVANCE: "Advance one step",
    Step.CHECK_IN: "Check in",
    Step.STAY: "Stay",
}
#: Each names its count, its period and its figure.
REASONS = {
    Reason.RED_FLAG_OPEN: "a red flag is open",
    Reason.HOLDS_SHORTER: "the longest holds of the last 7 days average {now_s:.1f} s, {fall:.0%} under "
    "the usual {usual_s:.1f} s. This has held for {days:.0f} practised days",
    Reason.EFFORT_UP: "effort averaged {now:.1f} of 10 in the last two sessions. The usual before was {before:.1f}",
    Reason.EFFORT_DOWN: "effort averaged {now:.1f} of 10 in the last two sessions. The usual before was {before:.1f}",
    Reason.BOTHER_UP: "bother averaged {now:.1f} of 10 in the last two answers. The usual before was {before:.1f}",
    Reason.LEVEL_DOWN: "the level averaged {now_db:+.1f} dB in the last 7 days and {before_db:+.1f} dB in the 7 days before",
    Reason.WORSE_FOR_TWO_WEEKS: "a decline has lasted for two weeks{worse}",
    Reason.CANNOT_DO_IT: "reported “I can’t do it” {times:.0f} times in 14 days",
    Reason.NOT_FELT: "the last {times:.0f} felt checks were not yes",
    Reason.FEW_ON_TARGET: "{met:.0f} of {trials:.0f} trials over {days:.0f} days were on target in the last two sessions",
    Reason.EFFORT_HIGH: "effort was {effort:.0f} of 10 or more in the last two sessions of a soft task",
    Reason.STRAIN_SAID: "strain was reported, or stopped a session, {times:.0f} times in 7 days",
    Reason.GOAL_REACHED: "the power notes averaged {mean_s:.1f} s on two practised days in a row. The goal is {goal_s:.0f} s",
    Reason.PEAK_KEPT: "holding {kept:.0%} of the peak of {peak_s:.1f} s",
    Reason.PEAK_LOST: "holding {kept:.0%} of the peak of {peak_s:.1f} s, under the limit",
    Reason.MOST_ON_TARGET: "{met:.0f} of {trials:.0f} trials over {days:.0f} days were on target, at the right effort",
    Reason.FELT_RIGHT: "the felt check was yes {times:.0f} times in a row over {days:.0f} days",
    Reason.DAYS_MISSED: "no session on the last {days:.0f} due days",
    Reason.ADHERENCE_LOW: "adherence was {adherence:.0%} in the last 14 days",
    Reason.TOO_TIRED: "a task was skipped as too tired in {times:.0f} of {sessions:.0f} sessions in 14 days",
    Reason.NOTHING_JUDGED: "none of {trials:.0f} trials in the last {sessions:.0f} sessions could be judged. Check the room and the microphone",
    Reason.MUCH_NOT_JUDGED: "only {judged:.0f} of {trials:.0f} trials in the last {sessions:.0f} sessions could be judged. Check the room, the microphone and the task",
    Reason.STUCK: "{share:.0%} on target in {sessions:.0f} sessions over {days:.0f} days under the same target",
    Reason.TOO_SELDOM: "{sessions:.0f} sessions in four weeks are too few to decide on",
    Reason.TOP_OF_LADDER: "{evidence}. This is the top of its ladder: choose another task, or maintenance",
    Reason.AT_ITS_GOAL: "{evidence}, and the hold goal is reached",
    Reason.ENOUGH_THIS_WEEK: "{evidence}. Another step would be too much within one week",
    Reason.STRAIN_LATELY: "{evidence}, but strain was reported in the last 7 days",
    Reason.SINKING: "{evidence}, but the last 7 days are below the usual level",
    Reason.EFFORT_NOT_ASKED: "{evidence}, but effort is not known for each of the last sessions",
    Reason.EFFORT_TOO_HIGH: "{evidence}, but with too much effort for a soft task",
    Reason.EFFORT_TOO_LOW: "{evidence}, but with too little effort for a loud task",
    Reason.NEXT_NOT_SHOWN: "{evidence}, but too few holds reached the next step",
    Reason.ABSENT: "too little was practised in the last 14 days to go on",
    Reason.NOT_BEGUN: "no trials under this target yet",
    Reason.IN_TAPER: "the taper sets the next step",
    Reason.MORE_SESSIONS: "{sessions:.0f} of {wanted:.0f} sessions since the last decision that a step needs",
    Reason.BETWEEN: "{met:.0f} of {trials:.0f} trials on target. A step up needs {needed:.0%}",
    Reason.FELT_CHECK: "progresses by the felt check: yes in three sessions in a row",
}
#: Of a decline that has lasted, what has declined, by the figures that it has.
_WORSE = {
    "now_s": ": holds of {now_s:.1f} s, {usual_s:.1f} s before",
    "now_db": ": a level of {now_db:+.1f} dB, {before_db:+.1f} dB before",
    "now": ": {now:.1f} of 10 in the last answers, {before:.1f} before",
}


def reason_of(proposal: Proposal) -> str:
    """Return why, with its figures."""
    facts: dict[str, Any] = dict(proposal.facts)
    facts["evidence"] = _evidence(facts)
    worse = next((words for name, words in _WORSE.items() if name in facts), "")
    facts["worse"] = worse.format(**facts)
    if facts.get("usual_s"):
        facts["fall"] = 1.0 - facts["now_s"] / facts["usual_s"]
    return REASONS[proposal.reason].format_map(_Known(facts))


class _Known(dict):
    """A figure that an earlier version did not keep is a dash, not a fault."""

    def __missing__(self, name: str) -> _Unknown:
        return _Unknown()


class _Unknown:
    def __format__(self, spec: str) -> str:
        return "–"


def _evidence(facts: dict[str, Any]) -> str:
    """What speaks for a step: tries on target, or felt checks."""
    if "trials" in facts:
        days = f" over {facts['days']:.0f} days" if "days" in facts else ""
        return f"{facts.get('met', 0.0):.0f} of {facts['trials']:.0f} trials{days} were on target"
    if "times" in facts:
        return f"the felt check was yes {facts['times']:.0f} times in a row"
    if "share" in facts:
        return f"{facts['share']:.0%} of trials were on target"
    return "the trials were on target"


def effects_of(proposal: Proposal, to: list[str] | None, *, writes_to: str | None) -> str:
    """Return what taking a proposal does besides its step; empty where it does nothing more.

    Args:
        to: the rung in force and the next one, in words; None where it moves none.
        writes_to: the client's email address, empty where none is agreed; None where the step
            writes to nobody.
    """
    told = []
    if proposal.step in RUNGS and to:
        told.append(f"changes {to[0]} to {to[1]}")
    if writes_to:
        told.append(f"sends an email to {writes_to}, which you see first")
    elif writes_to is not None:
        told.append("sends no email, because no address is agreed")
    return f"Accepting it {' and '.join(told)}." if told else ""


def proposal_words(proposal: Proposal) -> str:
    """The step and its reason."""
    reason = reason_of(proposal)
    to = f" to {proposal.to_seconds:g} s" if proposal.to_seconds else ""
    other = f" Or: {STEPS[proposal.otherwise].lower()}." if proposal.otherwise != Step.STAY else ""
    return f"{STEPS[proposal.step]}{to}: {reason}.{other}"


NEEDS = {
    Need.STOP: "Stop",
    Need.WORSE: "Decline",
    Need.DECISION: "Decision due",
    Need.CHECK_IN: "Check in",
    Need.ON_COURSE: "On course",
}
#: The key that takes each step on the board, and what it does in a word or two.
KEYS = {
    Step.STOP_AND_REFER: ("r", "write the referral"),
    Step.LOOK_AGAIN: ("r", "write the referral"),
    Step.EASE_AND_CALL: ("e", "ease and contact the client"),
    Step.CALL: ("m", "contact the client"),
    Step.EASE: ("e", "ease one step"),
    Step.SWAP: ("w", "swap the task"),
    Step.START_TAPER: ("t", "begin the taper"),
    Step.TAPER_ON: ("t", "next step of the taper"),
    Step.TAPER_BACK: ("t", "one step back"),
    Step.MAINTAIN: ("t", "start maintenance"),
    Step.ADVANCE: ("a", "advance one step"),
    Step.CHECK_IN: ("m", "contact the client"),
}
SETTING_GROUPS = {
    "Decline": {
        "worse_share": "Drop in weekly mean (share)",
        "worse_days": "Practised days needed (of 7)",
        "effort_rise": "Rise in effort or bother (points)",
        "effort_from": "Effort or bother after the rise, at least",
        "level_drop_db": "Drop in level of a loud task (dB)",
    },
    "Ease": {
        "ease_share": "On target below (share)",
        "ease_sessions": "Sessions needed",
        "hard_effort": "Effort on a soft task, at least",
        "strains": "Strain reports in 7 days",
    },
    "Swap": {
        "cannot": "Reports of “can’t do it”",
        "unfelt": "Felt checks in a row without a yes",
    },
    "Advance": {
        "advance_share": "On target at least (share)",
        "advance_sessions": "Sessions needed",
        "advance_days": "Days needed",
        "advance_trials": "Trials per session",
        "few_trials": "Trials needed, with fewer per session",
        "few_days": "Days needed, with fewer trials per session",
        "soft_effort": "Effort on a soft task, at most",
        "loud_effort": "Effort on a loud task, at least",
        "weekly_cap": "Largest increase in 7 days (share)",
    },
    "Check in": {
        "missed_days": "Due days without a session",
        "low_adherence": "Adherence in 14 days below (share)",
        "tired_share": "Skipped as too tired (share of sessions)",
        "stuck_days": "Days under the same target",
        "stuck_sessions": "Sessions under the same target",
        "unheard_sessions": "Sessions without a judged trial",
    },
    "Taper": {"keep_share": "Share of the peak held"},
}
SETTING_NAMES = {name: label for group in SETTING_GROUPS.values() for name, label in group.items()}
