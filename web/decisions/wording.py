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
    Step.CALL: "Contact the client, with a cue",
    Step.LOOK_AGAIN: "Have the larynx examined again",
    Step.SWAP: "Swap the task",
    Step.EASE: "Ease one step",
    Step.START_TAPER: "Start the taper",
    Step.TAPER_ON: "Go on to the next step of the taper",
    Step.TAPER_BACK: "Go back one step of the taper",
    Step.MAINTAIN: "Maintenance, with a date to recheck",
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
    Reason.BOTHER_UP: "the voice got in the way {now:.1f} of 10 in the last two answers. The usual before was {before:.1f}",
    Reason.LEVEL_DOWN: "the level averaged {now_db:+.1f} dB in the last 7 days and {before_db:+.1f} dB in the 7 days before",
    Reason.WORSE_FOR_TWO_WEEKS: "a decline has lasted for two weeks{worse}",
    Reason.CANNOT_DO_IT: "reported “I can’t do it” {times:.0f} times in 14 days",
    Reason.NOT_FELT: "the last {times:.0f} felt checks were not a yes",
    Reason.FEW_ON_TARGET: "{met:.0f} of {trials:.0f} tries over {days:.0f} days were on target in the last two sessions",
    Reason.EFFORT_HIGH: "effort was {effort:.0f} of 10 or more in the last two sessions of a soft task",
    Reason.STRAIN_SAID: "strain was reported, or stopped a session, {times:.0f} times in 7 days",
    Reason.GOAL_REACHED: "the power notes averaged {mean_s:.1f} s on two practised days in a row. The goal is {goal_s:.0f} s",
    Reason.PEAK_KEPT: "holding {kept:.0%} of the peak of {peak_s:.1f} s",
    Reason.PEAK_LOST: "holding {kept:.0%} of the peak of {peak_s:.1f} s, under the limit",
    Reason.MOST_ON_TARGET: "{met:.0f} of {trials:.0f} tries over {days:.0f} days were on target, at the right effort",
    Reason.FELT_RIGHT: "the felt check was a yes {times:.0f} times in a row over {days:.0f} days",
    Reason.DAYS_MISSED: "no session on the last {days:.0f} due days",
    Reason.ADHERENCE_LOW: "adherence was {adherence:.0%} in the last 14 days",
    Reason.TOO_TIRED: "a task was skipped as too tired in {times:.0f} of {sessions:.0f} sessions in 14 days",
    Reason.NOTHING_JUDGED: "none of {trials:.0f} tries in the last {sessions:.0f} sessions could be judged. Check the room and the microphone",
    Reason.MUCH_NOT_JUDGED: "only {judged:.0f} of {trials:.0f} tries in the last {sessions:.0f} sessions could be judged. Check the room, the microphone and the task",
    Reason.STUCK: "{share:.0%} on target in {sessions:.0f} sessions over {days:.0f} days under the same target",
    Reason.TOO_SELDOM: "{sessions:.0f} sessions in four weeks are too few to decide on",
    Reason.TOP_OF_LADDER: "{evidence}. This is the top of its ladder: choose another task, or maintenance",
    Reason.AT_ITS_GOAL: "{evidence}, and the hold goal is reached",
    Reason.ENOUGH_THIS_WEEK: "{evidence}. Another step would be too much within one week",
    Reason.STRAIN_LATELY: "{evidence}, but strain was reported in the last 7 days",
    Reason.SINKING: "{evidence}, but the last 7 days lie under what is usual",
    Reason.EFFORT_NOT_ASKED: "{evidence}, but effort is not known for each of the last sessions",
    Reason.EFFORT_TOO_HIGH: "{evidence}, but with too much effort for a soft task",
    Reason.EFFORT_TOO_LOW: "{evidence}, but with too little effort for a loud task",
    Reason.NEXT_NOT_SHOWN: "{evidence}, but few holds were as long as the next step",
    Reason.ABSENT: "too little was practised in the last 14 days to go on",
    Reason.NOT_BEGUN: "not tried yet under this target",
    Reason.IN_TAPER: "the taper sets the next step",
    Reason.MORE_SESSIONS: "{sessions:.0f} of {wanted:.0f} sessions since the last decision that a step needs",
    Reason.BETWEEN: "{met:.0f} of {trials:.0f} tries on target. A step up needs {needed:.0%}",
    Reason.FELT_CHECK: "decided by its felt check: a yes in three sessions in a row",
}
#: Of a decline that has lasted, what has declined, by the figures that it has.
_WORSE = {
    "now_s": ": holds of {now_s:.1f} s, {usual_s:.1f} s before",
    "now_db": ": a level of {now_db:+.1f} dB, {before_db:+.1f} dB before",
    "now": ": {now:.1f} of 10 in the last answers, {before:.1f} before",
}


def reason_of(proposal: Proposal) -> str:
    """Return why, with its figures."""
    facts = dict(proposal.facts)
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
        return f"{facts.get('met', 0.0):.0f} of {facts['trials']:.0f} tries{days} were on target"
    if "times" in facts:
        return f"the felt check was a yes {facts['times']:.0f} times in a row"
    if "share" in facts:
        return f"{facts['share']:.0%} of tries were on target"
    return "the tries were on target"


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
    return f"Taking it {' and '.join(told)}." if told else ""


def proposal_words(proposal: Proposal) -> str:
    """The step and its reason."""
    reason = reason_of(proposal)
    to = f" to {proposal.to_seconds:g} s" if proposal.to_seconds else ""
    other = f" Or: {STEPS[proposal.otherwise].lower()}." if proposal.otherwise != Step.STAY else ""
    return f"{STEPS[proposal.step]}{to}: {reason}.{other}"


NEEDS = {
    Need.STOP: "Stop",
    Need.WORSE: "Getting worse",
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
    Step.MAINTAIN: ("t", "go over to maintenance"),
    Step.ADVANCE: ("a", "advance one step"),
    Step.CHECK_IN: ("m", "contact the client"),
}
SETTING_NAMES = {
    "worse_share": "getting worse: the week’s mean lies so far under the best (share)",
    "worse_days": "… on at least so many practised days of seven",
    "effort_rise": "… or effort or bother up by (points)",
    "level_drop_db": "… or a loud task down by (dB)",
    "ease_share": "ease: fewer on target than (share)",
    "ease_sessions": "… in so many sessions",
    "hard_effort": "… or effort on a soft task from",
    "effort_from": "… and effort then at least",
    "unfelt": "swap: felt checks in a row without a yes",
    "tired_share": "check in: skipped as too tired in this share of sessions",
    "strains": "… or strain so many times in seven days",
    "cannot": "swap: “can’t do it” so many times",
    "advance_share": "advance: at least so many on target (share)",
    "advance_sessions": "… in so many sessions",
    "advance_days": "… over so many days",
    "advance_trials": "… with so many tries each",
    "few_trials": "… or, where fewer are prescribed, in so many tries",
    "few_days": "… over so many days",
    "soft_effort": "… with effort on a soft task at most",
    "loud_effort": "… with effort on a loud task at least",
    "weekly_cap": "… and never more within seven days than (share)",
    "missed_days": "check in: due days without a session",
    "low_adherence": "… or of what was due in a fortnight less than (share)",
    "stuck_days": "… or under the same target for so many days",
    "stuck_sessions": "… with so many sessions in them",
    "unheard_sessions": "… or so many sessions in which nothing could be judged",
    "keep_share": "taper: of the peak is kept (share)",
}
