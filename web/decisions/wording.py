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
    Reason.HOLDS_SHORTER: "the mean of the last week’s longest holds is {now_s:.1f} s. {usual_s:.1f} s was usual "
    "before, and it has stayed under that for {days:.0f} practised days",
    Reason.EFFORT_UP: "effort is {now:.1f} of 10 in the last two sessions, {before:.1f} before",
    Reason.EFFORT_DOWN: "effort is {now:.1f} of 10 in the last two sessions, {before:.1f} before",
    Reason.BOTHER_UP: "the voice got in the way {now:.1f} of 10 in the last two answers, {before:.1f} before",
    Reason.LEVEL_DOWN: "level is {now_db:+.1f} dB this week, {before_db:+.1f} dB the week before",
    Reason.WORSE_FOR_TWO_WEEKS: "it has been getting worse for two weeks",
    Reason.CANNOT_DO_IT: "“I can’t do it” was said {times:.0f} times in two weeks",
    Reason.NOT_FELT: "nothing was felt of it {times:.0f} times in a row",
    Reason.FEW_ON_TARGET: "{met:.0f} of {trials:.0f} tries were on target in the last two sessions",
    Reason.EFFORT_HIGH: "effort was {effort:.0f} of 10 or more on a soft task in two sessions running",
    Reason.STRAIN_SAID: "strain was said, or stopped a session, {times:.0f} times in seven days",
    Reason.GOAL_REACHED: "the power notes held {mean_s:.1f} s on average, {goal_s:.0f} s was the "
    "goal, on two practised days in a row",
    Reason.PEAK_KEPT: "{kept:.0%} of the peak of {peak_s:.1f} s is kept",
    Reason.PEAK_LOST: "{kept:.0%} of the peak of {peak_s:.1f} s is left, under 85%",
    Reason.MOST_ON_TARGET: "{met:.0f} of {trials:.0f} tries over {days:.0f} days were on target, effort as it should be",
    Reason.FELT_RIGHT: "it felt right {times:.0f} times in a row over {days:.0f} days",
    Reason.DAYS_MISSED: "{days:.0f} due days without a session",
    Reason.ADHERENCE_LOW: "{adherence:.0%} of what was due in 14 days was done",
    Reason.TOO_TIRED: "something was skipped as too tired in {times:.0f} of {sessions:.0f} sessions",
    Reason.NOTHING_JUDGED: "none of {trials:.0f} tries in the last {sessions:.0f} sessions could be judged. Look at the room and the microphone",
    Reason.MUCH_NOT_JUDGED: "only {judged:.0f} of {trials:.0f} tries in the last {sessions:.0f} sessions could be judged. Look at the room, the microphone and the task",
    Reason.STUCK: "{share:.0%} on target in {sessions:.0f} sessions over {days:.0f} days, and the target has not moved",
    Reason.TOO_SELDOM: "{sessions:.0f} sessions in four weeks are too few to decide on",
    Reason.TOP_OF_LADDER: "{share:.0%} on target at the top of its ladder: another task, or maintenance",
    Reason.AT_ITS_GOAL: "{share:.0%} on target, and the hold goal is reached",
    Reason.ENOUGH_THIS_WEEK: "{share:.0%} on target. The next step would be more than a fifth within a week",
    Reason.STRAIN_LATELY: "well done, but strain was said within the last seven days",
    Reason.SINKING: "well done, but the last week lies under what was usual: no step up on that",
    Reason.EFFORT_NOT_ASKED: "well done, but how hard it was is not known for each of the last sessions",
    Reason.EFFORT_TOO_HIGH: "well done, but with too much effort for a soft task",
    Reason.EFFORT_TOO_LOW: "well done, but with too little effort for a loud task",
    Reason.NEXT_NOT_SHOWN: "{share:.0%} on target, but few holds were as long as the next step",
    Reason.ABSENT: "too little was practised lately to go on",
    Reason.NOT_BEGUN: "not tried yet under this target",
    Reason.IN_TAPER: "the taper decides",
    Reason.MORE_SESSIONS: "{sessions:.0f} of {wanted:.0f} sessions since the last decision that a step needs",
    Reason.BETWEEN: "{met:.0f} of {trials:.0f} on target: {needed:.0%} is needed for a step up",
    Reason.FELT_CHECK: "goes by its felt check: a “yes” in three sessions running",
}


def reason_of(proposal) -> str:
    """Why, with its figures."""
    try:
        return REASONS[proposal.reason].format(**proposal.facts)
    except KeyError:  # as a version with fewer figures has kept it
        return proposal.reason.value.replace("_", " ")


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
