"""What is proposed and why, in sentences with their figures."""

from reedcore.decisions import Because, Step

STEPS = {
    Step.STOP_AND_REFER: "Stop and refer",
    Step.EASE_AND_CALL: "Ease one rung and get in touch",
    Step.LOOK_AGAIN: "Have the larynx looked at again",
    Step.SWAP: "Swap the task",
    Step.EASE: "Ease one rung",
    Step.START_TAPER: "Start the taper",
    Step.TAPER_ON: "On to the next week of the taper",
    Step.TAPER_BACK: "Back one step of the taper",
    Step.MAINTAIN: "Maintenance, with a date to recheck",
    Step.ADVANCE: "Advance one rung",
    Step.CHECK_IN: "Check in",
    Step.STAY: "Stay",
}
REASONS = {
    Because.RED_FLAG_OPEN: "a red flag is open",
    Because.HOLDS_SHORTER: "the week’s mean of daily longest holds is {now_s:.1f} s, {best_s:.1f} s "
    "at its best in the four weeks before, and that is more than chance",
    Because.EFFORT_UP: "effort is {now:.1f} this week, {before:.1f} the week before",
    Because.BOTHER_UP: "the voice got in the way {now:.0f} of 10, {before:.0f} the time before",
    Because.LEVEL_DOWN: "level is {now_db:+.1f} dB this week, {before_db:+.1f} dB the week before",
    Because.WORSE_FOR_TWO_WEEKS: "it has been getting worse for two weeks",
    Because.CANNOT_DO_IT: "“I can’t do it” was said twice",
    Because.FEW_ON_TARGET: "{share:.0%} on target in the last two sessions",
    Because.EFFORT_HIGH: "effort was {effort:.0f} of 10 on a soft task",
    Because.STRAIN_SAID: "strain was said after it this week",
    Because.GOAL_REACHED: "the power notes held {mean_s:.1f} s on average, {goal_s:.0f} s was the "
    "goal, on two practised days in a row",
    Because.PEAK_KEPT: "{kept:.0%} of the peak is kept",
    Because.PEAK_LOST: "{kept:.0%} of the peak is left, under 85 %",
    Because.MOST_ON_TARGET: "{share:.0%} of {trials:.0f} tries on target, effort as it should be",
    Because.FELT_RIGHT: "it felt right {times:.0f} times in a row",
    Because.DAYS_MISSED: "{days:.0f} due days without a session",
    Because.ADHERENCE_LOW: "{adherence:.0%} of what was due in a fortnight",
    Because.NOTHING_STANDS_OUT: "nothing stands out",
}


def proposal_words(proposal) -> str:
    """The step and its reason."""
    reason = REASONS[proposal.because].format(**proposal.facts)
    to = f" to {proposal.to_seconds:g} s" if proposal.to_seconds else ""
    other = f" Or: {STEPS[proposal.otherwise].lower()}." if proposal.otherwise != Step.STAY else ""
    return f"{STEPS[proposal.step]}{to}: {reason}.{other}"
