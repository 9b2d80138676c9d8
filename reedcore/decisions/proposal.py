"""A proposal of a rule: a step, its reason, its evidence, and the alternatives."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum


class Step(StrEnum):
    """The kind of change that is proposed."""

    STOP_AND_REFER = "stop_and_refer"
    EASE_AND_CALL = "ease_and_call"
    CALL = "call"
    LOOK_AGAIN = "look_again"
    SWAP = "swap"
    EASE = "ease"
    START_TAPER = "start_taper"
    TAPER_ON = "taper_on"
    TAPER_BACK = "taper_back"
    MAINTAIN = "maintain"
    ADVANCE = "advance"
    CHECK_IN = "check_in"
    STAY = "stay"


class Reason(StrEnum):
    """The reason for a proposal."""

    RED_FLAG_OPEN = "red_flag_open"
    HOLDS_SHORTER = "holds_shorter"
    EFFORT_UP = "effort_up"
    EFFORT_DOWN = "effort_down"
    BOTHER_UP = "bother_up"
    LEVEL_DOWN = "level_down"
    WORSE_FOR_TWO_WEEKS = "worse_for_two_weeks"
    CANNOT_DO_IT = "cannot_do_it"
    NOT_FELT = "not_felt"
    FEW_ON_TARGET = "few_on_target"
    EFFORT_HIGH = "effort_high"
    STRAIN_SAID = "strain_said"
    GOAL_REACHED = "goal_reached"
    PEAK_KEPT = "peak_kept"
    PEAK_LOST = "peak_lost"
    MOST_ON_TARGET = "most_on_target"
    FELT_RIGHT = "felt_right"
    DAYS_MISSED = "days_missed"
    ADHERENCE_LOW = "adherence_low"
    TOO_TIRED = "too_tired"
    NOTHING_JUDGED = "nothing_judged"
    MUCH_NOT_JUDGED = "much_not_judged"
    STUCK = "stuck"
    TOO_SELDOM = "too_seldom"
    # Why a successful task does not advance.
    TOP_OF_LADDER = "top_of_ladder"
    AT_ITS_GOAL = "at_its_goal"
    ENOUGH_THIS_WEEK = "enough_this_week"
    STRAIN_LATELY = "strain_lately"
    SINKING = "sinking"
    EFFORT_NOT_ASKED = "effort_not_asked"
    EFFORT_TOO_HIGH = "effort_too_high"
    EFFORT_TOO_LOW = "effort_too_low"
    NEXT_NOT_SHOWN = "next_not_shown"
    # Why nothing else is proposed.
    ABSENT = "absent"
    NOT_BEGUN = "not_begun"
    IN_TAPER = "in_taper"
    MORE_SESSIONS = "more_sessions"
    BETWEEN = "between"
    FELT_CHECK = "felt_check"


@dataclass(frozen=True, slots=True)
class Proposal:
    """A proposed step with its reason and evidence.

    Attributes:
        evidence: keys of the trials behind it.
        facts: the figures that the words quote.
        to_seconds: the new target, where the step sets one.
        otherwise: the next best step.
    """

    step: Step
    reason: Reason
    evidence: tuple[str, ...] = ()
    facts: dict[str, float] = field(default_factory=dict)
    to_seconds: float | None = None
    otherwise: Step = Step.STAY
