"""What is proposed and why, in sentences with their figures."""

from reedcore.decisions import Need, Reason, Step

STEPS = {
    Step.STOP_AND_REFER: "Stop and refer",
    Step.EASE_AND_CALL: "Ease one step and get in touch",
    Step.CALL: "Get in touch, with a cue",
    Step.LOOK_AGAIN: "Have the larynx looked at again",
    Step.SWAP: "Swap the task",
    Step.EASE: "Ease one step",
    Step.START_TAPER: "Start the taper",
    Step.TAPER_ON: "On to the next week of the taper",
    Step.TAPER_BACK: "Back one step of the taper",
    Step.MAINTAIN: "Maintenance, with a date to recheck",
    Step.ADVANCE: "Advance one step",
    Step.CHECK_IN: "Check in",
    Step.STAY: "Stay",
}
REASONS = {
    Reason.RED_FLAG_OPEN: "a red flag is open",
    Reason.HOLDS_SHORTER: "the week’s mean of daily longest holds is {now_s:.1f} s, {usual_s:.1f} s "
    "was usual in the four weeks before, and it has stayed so",
    Reason.EFFORT_UP: "effort is {now:.1f} in the last two answers, {before:.1f} before",
    Reason.EFFORT_DOWN: "effort is {now:.1f} in the last two answers, {before:.1f} before",
    Reason.BOTHER_UP: "the voice got in the way {now:.1f} of 10 in the last two answers, {before:.1f} before",
    Reason.LEVEL_DOWN: "level is {now_db:+.1f} dB this week, {before_db:+.1f} dB the week before",
    Reason.WORSE_FOR_TWO_WEEKS: "it has been getting worse for two weeks",
    Reason.CANNOT_DO_IT: "“I can’t do it” was said {times:.0f} times",
    Reason.NOT_FELT: "nothing was felt of it {times:.0f} times in a row",
    Reason.FEW_ON_TARGET: "{share:.0%} on target in the last two sessions",
    Reason.EFFORT_HIGH: "effort was {effort:.0f} of 10 or more on a soft task, twice",
    Reason.STRAIN_SAID: "strain was said, or stopped a session, {times:.0f} times in seven days",
    Reason.GOAL_REACHED: "the power notes held {mean_s:.1f} s on average, {goal_s:.0f} s was the "
    "goal, on two practised days in a row",
    Reason.PEAK_KEPT: "{kept:.0%} of the peak is kept",
    Reason.PEAK_LOST: "{kept:.0%} of the peak is left, under 85%",
    Reason.MOST_ON_TARGET: "{share:.0%} of {trials:.0f} tries on target, effort as it should be",
    Reason.FELT_RIGHT: "it felt right {times:.0f} times in a row",
    Reason.DAYS_MISSED: "{days:.0f} due days without a session",
    Reason.ADHERENCE_LOW: "{adherence:.0%} of what was due in a fortnight",
    Reason.TOO_TIRED: "too tired for something in {times:.0f} of {sessions:.0f} sessions",
    Reason.NOTHING_JUDGED: "nothing could be judged in {sessions:.0f} sessions; look at the room and the microphone",
    Reason.STUCK: "{share:.0%} on target for {days:.0f} days under the same target, and not rising",
    Reason.TOP_OF_LADDER: "all of it is on target, at the top of its ladder",
    Reason.ENOUGH_THIS_WEEK: "on target, and a fifth more within a week is enough",
    Reason.ABSENT: "too little was practised lately to go on",
    Reason.NOTHING_STANDS_OUT: "nothing stands out",
}


def reason_of(proposal) -> str:
    """Why, with its figures."""
    return REASONS[proposal.reason].format(**proposal.facts)


def proposal_words(proposal) -> str:
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
    Step.EASE_AND_CALL: ("e", "ease and get in touch"),
    Step.CALL: ("m", "get in touch, with a cue"),
    Step.EASE: ("e", "ease one step"),
    Step.SWAP: ("w", "swap the task"),
    Step.START_TAPER: ("t", "begin the taper"),
    Step.TAPER_ON: ("t", "on in the taper"),
    Step.TAPER_BACK: ("t", "one step back"),
    Step.MAINTAIN: ("t", "go over to maintenance"),
    Step.ADVANCE: ("a", "advance one step"),
    Step.CHECK_IN: ("m", "get in touch"),
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
