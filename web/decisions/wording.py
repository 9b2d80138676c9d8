"""Proposals and their reasons in sentences with figures."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.utils.translation import gettext

from reedcore.decisions import Need, Reason, Step
from reedcore.decisions.of_history import RUNGS
from web.ui.marked import WordList, Words, gettext_noop

if TYPE_CHECKING:
    from reedcore.decisions.proposal import Proposal

STEPS = Words(
    {
        Step.STOP_AND_REFER: gettext_noop("Stop and refer"),
        Step.EASE_AND_CALL: gettext_noop("Ease one step and contact the client"),
        Step.CALL: gettext_noop("Contact the client and give a cue"),
        Step.LOOK_AGAIN: gettext_noop("Repeat the laryngeal examination"),
        Step.SWAP: gettext_noop("Swap the task"),
        Step.EASE: gettext_noop("Ease one step"),
        Step.START_TAPER: gettext_noop("Start the taper"),
        Step.TAPER_ON: gettext_noop("Taper: next step"),
        Step.TAPER_BACK: gettext_noop("Taper: one step back"),
        Step.MAINTAIN: gettext_noop("Maintenance with a recheck date"),
        Step.ADVANCE: gettext_noop("Advance one step"),
        Step.CHECK_IN: gettext_noop("Check in"),
        Step.STAY: gettext_noop("Stay"),
    }
)
#: Sentences with count, period and figure.
REASONS = Words(
    {
        Reason.RED_FLAG_OPEN: gettext_noop("a red flag is open"),
        Reason.HOLDS_SHORTER: gettext_noop(
            "the longest holds of the last 7 days average {now_s:.1f} s, {fall:.0%} under "
            "the usual {usual_s:.1f} s. This has held for {days:.0f} practised days"
        ),
        Reason.EFFORT_UP: gettext_noop(
            "effort averaged {now:.1f} of 10 in the last two sessions. The usual before was {before:.1f}"
        ),
        Reason.EFFORT_DOWN: gettext_noop(
            "effort averaged {now:.1f} of 10 in the last two sessions. The usual before was {before:.1f}"
        ),
        Reason.BOTHER_UP: gettext_noop(
            "bother averaged {now:.1f} of 10 in the last two answers. The usual before was {before:.1f}"
        ),
        Reason.LEVEL_DOWN: gettext_noop(
            "the level averaged {now_db:+.1f} dB in the last 7 days and {before_db:+.1f} dB in the 7 days before"
        ),
        Reason.WORSE_FOR_TWO_WEEKS: gettext_noop("a decline has lasted for two weeks"),
        Reason.CANNOT_DO_IT: gettext_noop("reported “I can’t do it” {times:.0f} times in 14 days"),
        Reason.NOT_FELT: gettext_noop("the last {times:.0f} felt checks were not yes"),
        Reason.FEW_ON_TARGET: gettext_noop(
            "{met:.0f} of {trials:.0f} trials over {days:.0f} days were on target in the last two sessions"
        ),
        Reason.EFFORT_HIGH: gettext_noop(
            "effort was {effort:.0f} of 10 or more in the last two sessions of a soft task"
        ),
        Reason.STRAIN_SAID: gettext_noop(
            "strain was reported, or stopped a session, {times:.0f} times in 7 days"
        ),
        Reason.GOAL_REACHED: gettext_noop(
            "the power notes averaged {mean_s:.1f} s on two practised days in a row. The goal is {goal_s:.0f} s"
        ),
        Reason.PEAK_KEPT: gettext_noop("holding {kept:.0%} of the peak of {peak_s:.1f} s"),
        Reason.PEAK_LOST: gettext_noop(
            "holding {kept:.0%} of the peak of {peak_s:.1f} s, under the limit"
        ),
        Reason.MOST_ON_TARGET: gettext_noop(
            "{met:.0f} of {trials:.0f} trials over {days:.0f} days were on target, at the right effort"
        ),
        Reason.FELT_RIGHT: gettext_noop(
            "the felt check was yes {times:.0f} times in a row over {days:.0f} days"
        ),
        Reason.DAYS_MISSED: gettext_noop("no session on the last {days:.0f} due days"),
        Reason.ADHERENCE_LOW: gettext_noop("adherence was {adherence:.0%} in the last 14 days"),
        Reason.TOO_TIRED: gettext_noop(
            "a task was skipped as too tired in {times:.0f} of {sessions:.0f} sessions in 14 days"
        ),
        Reason.NOTHING_JUDGED: gettext_noop(
            "none of {trials:.0f} trials in the last {sessions:.0f} sessions could be judged. Check the room and the microphone"
        ),
        Reason.MUCH_NOT_JUDGED: gettext_noop(
            "only {judged:.0f} of {trials:.0f} trials in the last {sessions:.0f} sessions could be judged. Check the room, the microphone and the task"
        ),
        Reason.STUCK: gettext_noop(
            "{share:.0%} on target in {sessions:.0f} sessions over {days:.0f} days under the same target"
        ),
        Reason.TOO_SELDOM: gettext_noop(
            "{sessions:.0f} sessions in four weeks are too few to decide on"
        ),
        Reason.TOP_OF_LADDER: gettext_noop(
            "{evidence}. This is the top of its ladder: choose another task, or maintenance"
        ),
        Reason.AT_ITS_GOAL: gettext_noop("{evidence}, and the hold goal is reached"),
        Reason.ENOUGH_THIS_WEEK: gettext_noop(
            "{evidence}. Another step would be too much within one week"
        ),
        Reason.STRAIN_LATELY: gettext_noop(
            "{evidence}, but strain was reported in the last 7 days"
        ),
        Reason.SINKING: gettext_noop("{evidence}, but the last 7 days are below the usual level"),
        Reason.EFFORT_NOT_ASKED: gettext_noop(
            "{evidence}, but effort is not known for each of the last sessions"
        ),
        Reason.EFFORT_TOO_HIGH: gettext_noop(
            "{evidence}, but with too much effort for a soft task"
        ),
        Reason.EFFORT_TOO_LOW: gettext_noop(
            "{evidence}, but with too little effort for a loud task"
        ),
        Reason.NEXT_NOT_SHOWN: gettext_noop("{evidence}, but too few holds reached the next step"),
        Reason.ABSENT: gettext_noop("too little was practised in the last 14 days to go on"),
        Reason.NOT_BEGUN: gettext_noop("no trials under this target yet"),
        Reason.IN_TAPER: gettext_noop("the taper sets the next step"),
        Reason.MORE_SESSIONS: gettext_noop(
            "{sessions:.0f} of {wanted:.0f} sessions since the last decision that a step needs"
        ),
        Reason.BETWEEN: gettext_noop(
            "{met:.0f} of {trials:.0f} trials on target. A step up needs {needed:.0%}"
        ),
        Reason.FELT_CHECK: gettext_noop(
            "progresses by the felt check: yes in three sessions in a row"
        ),
    }
)
#: The declining quantity, by the figures available.
_WORSE = Words(
    {
        "now_s": gettext_noop(
            "a decline has lasted for two weeks: holds of {now_s:.1f} s, {usual_s:.1f} s before"
        ),
        "now_db": gettext_noop(
            "a decline has lasted for two weeks: a level of {now_db:+.1f} dB, {before_db:+.1f} dB before"
        ),
        "now": gettext_noop(
            "a decline has lasted for two weeks: {now:.1f} of 10 in the last answers, {before:.1f} before"
        ),
    }
)


def reason_of(proposal: Proposal) -> str:
    """Return why, with its figures."""
    facts: dict[str, Any] = dict(proposal.facts)
    facts["evidence"] = _evidence(facts)
    if facts.get("usual_s"):
        facts["fall"] = 1.0 - facts["now_s"] / facts["usual_s"]
    words = REASONS[proposal.reason]
    if proposal.reason is Reason.WORSE_FOR_TWO_WEEKS:
        words = next((text for name, text in _WORSE.items() if name in facts), words)
    return words.format_map(_MissingAsDash(facts))


class _MissingAsDash(dict):
    """A figure that an earlier version did not keep is a dash, not a fault."""

    def __missing__(self, name: str) -> _Unknown:
        return _Unknown()


class _Unknown:
    def __format__(self, spec: str) -> str:
        return "–"


def _evidence(facts: dict[str, Any]) -> str:
    """Return the evidence for a step: tries on target, or felt checks."""
    if "trials" in facts:
        words = (
            gettext("{met:.0f} of {trials:.0f} trials over {days:.0f} days were on target")
            if "days" in facts
            else gettext("{met:.0f} of {trials:.0f} trials were on target")
        )
        return words.format(**{"met": 0.0, **facts})
    if "times" in facts:
        return gettext("the felt check was yes {times:.0f} times in a row").format(
            times=facts["times"]
        )
    if "share" in facts:
        return gettext("{share:.0%} of trials were on target").format(share=facts["share"])
    return gettext("the trials were on target")


def effects_of(proposal: Proposal, to: list[str] | None, *, writes_to: str | None) -> str:
    """Return the further effects of accepting a proposal; empty if there are none.

    Args:
        to: the rung in force and the next one, in words; None where it moves none.
        writes_to: the client's email address, empty where none is agreed; None where the step
            has no email.
    """
    effects = []
    if proposal.step in RUNGS and to:
        effects.append(
            gettext("Accepting it changes {value} to {value_2}.").format(value=to[0], value_2=to[1])
        )
    if writes_to:
        effects.append(
            gettext("Accepting it sends an email to {writes_to}, which you see first.").format(
                writes_to=writes_to
            )
        )
    elif writes_to is not None:
        effects.append(gettext("It sends no email, because no address is agreed."))
    return " ".join(effects)


def proposal_words(proposal: Proposal) -> str:
    """Return the step and its reason."""
    reason = reason_of(proposal)
    words = (
        gettext("{step} to {to_seconds:g} s: {reason}.")
        if proposal.to_seconds
        else gettext("{step}: {reason}.")
    )
    sentence = words.format(
        step=STEPS[proposal.step], to_seconds=proposal.to_seconds, reason=reason
    )
    if proposal.otherwise == Step.STAY:
        return sentence
    other = gettext("Or: {words}.").format(words=STEPS[proposal.otherwise])
    return f"{sentence} {other}"


NEEDS = Words(
    {
        Need.STOP: gettext_noop("Stop"),
        Need.WORSE: gettext_noop("Decline"),
        Need.DECISION: gettext_noop("Decision due"),
        Need.CHECK_IN: gettext_noop("Check in"),
        Need.WAITING: gettext_noop("Waiting"),
        Need.NO_PROGRAMME: gettext_noop("No programme"),
        Need.ON_COURSE: gettext_noop("On course"),
    }
)
#: Key of each step on the board, with a short label.
KEYS = Words(
    {
        Step.STOP_AND_REFER: ("r", gettext_noop("write the referral")),
        Step.LOOK_AGAIN: ("r", gettext_noop("write the referral")),
        Step.EASE_AND_CALL: ("e", gettext_noop("ease and contact the client")),
        Step.CALL: ("m", gettext_noop("contact the client")),
        Step.EASE: ("e", gettext_noop("ease one step")),
        Step.SWAP: ("w", gettext_noop("swap the task")),
        Step.START_TAPER: ("t", gettext_noop("begin the taper")),
        Step.TAPER_ON: ("t", gettext_noop("next step of the taper")),
        Step.TAPER_BACK: ("t", gettext_noop("one step back")),
        Step.MAINTAIN: ("t", gettext_noop("start maintenance")),
        Step.ADVANCE: ("a", gettext_noop("advance one step")),
        Step.CHECK_IN: ("m", gettext_noop("contact the client")),
    }
)
_SETTINGS: dict[str, dict[str, str]] = {
    "Decline": {
        "worse_share": gettext_noop("Drop in weekly mean (share)"),
        "worse_days": gettext_noop("Practised days needed (of 7)"),
        "effort_rise": gettext_noop("Rise in effort or bother (points)"),
        "effort_from": gettext_noop("Effort or bother after the rise, at least"),
        "level_drop_db": gettext_noop("Drop in level of a loud task (dB)"),
    },
    "Ease": {
        "ease_share": gettext_noop("On target below (share)"),
        "ease_sessions": gettext_noop("Sessions needed"),
        "hard_effort": gettext_noop("Effort on a soft task, at least"),
        "strains": gettext_noop("Strain reports in 7 days"),
    },
    "Swap": {
        "cannot": gettext_noop("Reports of “can’t do it”"),
        "unfelt": gettext_noop("Felt checks in a row without a yes"),
    },
    "Advance": {
        "advance_share": gettext_noop("On target at least (share)"),
        "advance_sessions": gettext_noop("Sessions needed"),
        "advance_days": gettext_noop("Days needed"),
        "advance_trials": gettext_noop("Trials per session"),
        "few_trials": gettext_noop("Trials needed, with fewer per session"),
        "few_days": gettext_noop("Days needed, with fewer trials per session"),
        "soft_effort": gettext_noop("Effort on a soft task, at most"),
        "loud_effort": gettext_noop("Effort on a loud task, at least"),
        "weekly_cap": gettext_noop("Largest increase in 7 days (share)"),
    },
    "Check in": {
        "missed_days": gettext_noop("Due days without a session"),
        "low_adherence": gettext_noop("Adherence in 14 days below (share)"),
        "tired_share": gettext_noop("Skipped as too tired (share of sessions)"),
        "stuck_days": gettext_noop("Days under the same target"),
        "stuck_sessions": gettext_noop("Sessions under the same target"),
        "unheard_sessions": gettext_noop("Sessions without a judged trial"),
    },
    "Taper": {"keep_share": gettext_noop("Share of the peak held")},
}
#: Name of each threshold, by step.
SETTING_GROUPS: WordList[tuple[str, dict[str, str]]] = WordList(
    [(gettext_noop(title), names) for title, names in _SETTINGS.items()]
)
SETTING_NAMES: Words[str, str] = Words(
    {name: words for names in _SETTINGS.values() for name, words in names.items()}
)
