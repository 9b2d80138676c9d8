"""Proposals and their reasons as a table that a clinician can read, including cases without one."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from reedcore.decisions import (
    RANGES,
    RULES,
    TAPER,
    Case,
    FeltCheck,
    LoudLevel,
    Need,
    PastTrial,
    ScaleAnswer,
    Settings,
    Step,
    changed_settings,
    most_pressing_need,
    propose,
    propose_together,
)
from reedcore.decisions.advancing import advance
from reedcore.errors import ValueOutOfRange

TODAY = date(2026, 11, 25)


def ago(days):
    return TODAY - timedelta(days=days)


def session(days_ago, on_target, *, held_s=10.0, name=""):
    """Return trials of one session: a string such as ``yyn?``, where ? was not judged."""
    said = {"y": True, "n": False, "?": None}
    return tuple(
        PastTrial(
            f"{days_ago}{name}-{place}", f"{days_ago}{name}", ago(days_ago), said[letter], held_s
        )
        for place, letter in enumerate(on_target)
    )


def scale_answers(*values, step=1, is_new=True):
    """Return answers, the newest of yesterday, one per session; ``is_new``: no decision yet."""
    return tuple(
        ScaleAnswer(ago(1 + step * back), value, is_new, is_new, f"{1 + step * back}")
        for back, value in enumerate(reversed(values))
    )[::-1]


def grown(trials):
    """Return the same trials, each a little longer than the one before."""
    return tuple(replace(each, held_s=each.held_s + at / 20) for at, each in enumerate(trials))


def daily(first_days_ago, last_days_ago, held_s, on_target="yy"):
    """Return a session a day between two days, all equally long."""
    return tuple(
        trial
        for days in range(first_days_ago, last_days_ago - 1, -1)
        for trial in session(days, on_target, held_s=held_s)
    )


GOOD = (*session(3, "yyyy"), *session(2, "yyyn"), *session(1, "yyyy"))
HARD = (*session(2, "nnyn"), *session(1, "nynn"))
EASY_WORK = scale_answers(3, 3, 4)
HIGH, LOW = daily(40, 11, 12.0, "yyyy"), daily(9, 0, 9.5, "yyyy")
FALLEN = (*HIGH, *LOW)
HERE = Case(today=TODAY, last_session_on=ago(1), adherence_14=1.0)
SOFT = replace(HERE, trials=GOOD, efforts=EASY_WORK, seconds_now=10, next_seconds=12)
LOUD = replace(SOFT, is_loud=True, efforts=scale_answers(8, 9, 8))
FEW = tuple(trial for days in range(4, 0, -1) for trial in session(days, "yyy"))
BLOCK = replace(
    HERE, goal_s=20.0, efforts=EASY_WORK,
    block_means=((ago(3), 19.0), (ago(1), 20.5), (TODAY, 20.1)),
)  # fmt: skip
TAPERING = replace(
    BLOCK, is_in_taper=True, taper_week=3, peak_s=20.0, taper_since=ago(8), block_means=((ago(2), 18.0), (TODAY, 18.4)),
)  # fmt: skip
STUCK = replace(
    HERE, trials=daily(20, 1, 10.0, "yyn"), efforts=EASY_WORK, same_target_since=ago(30),
)  # fmt: skip
FELT = replace(HERE, is_measured=False, efforts=EASY_WORK)
NOTHING = ("stay", None)
SINKS = ("stay", "sinking")
GOES_ON = ("advance", "most_on_target")


def felt(*answers):
    """Return one answer per session, a session a day, the last one yesterday."""
    days = range(len(answers), 0, -1)
    return tuple(
        FeltCheck(ago(day), f"{day}", each) for day, each in zip(days, answers, strict=True)
    )


def old(trials):
    return tuple(replace(each, is_new=False) for each in trials)


def levels(before, now, *, days=3, device="tablet", other="tablet"):
    return (
        *(LoudLevel(ago(8 + back), before, other) for back in reversed(range(days))),
        *(LoudLevel(ago(1 + back), now, device) for back in reversed(range(days))),
    )


#: name → (case, (step, because))
TABLE = {
    # Red flag.
    "an open flag stops everything": (replace(SOFT, open_flags=("lump",)), ("stop_and_refer", "red_flag_open")),
    "a flag outranks getting worse": (replace(SOFT, trials=FALLEN, open_flags=("lump",)), ("stop_and_refer", "red_flag_open")),
    "a flag outranks a block that is complete": (replace(BLOCK, open_flags=("x",)), ("stop_and_refer", "red_flag_open")),
    "a flag speaks of the absent too": (Case(TODAY, open_flags=("x",)), ("stop_and_refer", "red_flag_open")),
    # Decline: holds.
    "a fifth shorter, for good": (replace(SOFT, trials=FALLEN), ("ease_and_call", "holds_shorter")),
    "a fifth shorter, seen on three days only": (
        replace(SOFT, trials=(*daily(40, 8, 12.0, "yyyy"), *daily(6, 1, 9.5, "yyyy"))), SINKS,
    ),
    "a tenth shorter: no decline, and nothing to climb on": (
        replace(SOFT, trials=(*HIGH, *daily(9, 1, 10.8, "yyyy"))), SINKS,
    ),
    "a fiftieth shorter": (replace(SOFT, trials=(*HIGH, *daily(9, 1, 11.8, "yyyy"))), GOES_ON),
    "shorter and back again": (
        replace(SOFT, trials=(*HIGH, *daily(9, 5, 9.0, "yyyy"), *daily(4, 1, 12.0, "yyyy"))), SINKS,
    ),
    "two practised days are no week": (
        replace(SOFT, trials=(*HIGH, *session(1, "yyyy", held_s=9.0), *session(0, "yyyy", held_s=9.0))),
        NOTHING,
    ),
    "nothing before to compare with": (replace(SOFT, trials=daily(7, 1, 9.5, "yyyy")), GOES_ON),
    "seconds held are seconds, whatever was asked then": (
        replace(SOFT, trials=(*(replace(each, had_other_prescription=True) for each in HIGH), *LOW)), ("ease_and_call", "holds_shorter"),
    ),
    "what is usual may lie before the last decision": (
        replace(SOFT, trials=(*old(HIGH), *LOW), decline_since=ago(10)), ("ease_and_call", "holds_shorter"),
    ),
    "the same decline once decided waits for new days": (
        replace(SOFT, trials=(*old(HIGH), *old(LOW)), decline_since=ago(1)), NOTHING,
    ),
    "a decline that goes on after the decision speaks again": (
        replace(SOFT, trials=FALLEN, decline_since=ago(4)), ("ease_and_call", "holds_shorter"),
    ),
    "three days after the decision are not enough": (replace(SOFT, trials=FALLEN, decline_since=ago(3)), NOTHING),
    "another decision takes nothing of a decline back": (replace(SOFT, trials=FALLEN, since=ago(1)), ("ease_and_call", "holds_shorter")),
    "worse for two weeks: another look at the larynx": (
        replace(SOFT, trials=(*daily(60, 20, 12.0, "yyyy"), *daily(18, 0, 9.0, "yyyy"))), ("look_again", "worse_for_two_weeks"),
    ),
    "worse for two weeks, decided today": (
        replace(SOFT, trials=old((*daily(60, 20, 12.0, "yyyy"), *daily(18, 0, 9.0, "yyyy"))), decline_since=TODAY), NOTHING,
    ),
    "a loud task shorter is a call and a cue": (replace(LOUD, trials=FALLEN), ("call", "holds_shorter")),
    "at the foot of the ladder nothing is eased": (replace(SOFT, trials=FALLEN, can_ease=False), ("call", "holds_shorter")),
    "a decline of somebody gone for a week": (
        replace(SOFT, trials=(*daily(50, 20, 12.0, "yyyy"), *daily(18, 8, 9.0, "yyyy")), last_session_on=ago(8)),
        ("stay", "absent"),
    ),
    # Decline: effort, bother, level.
    "effort up by two, twice": (replace(SOFT, efforts=scale_answers(3, 3, 5, 5)), ("ease_and_call", "effort_up")),
    "effort up by two, once": (replace(SOFT, efforts=scale_answers(3, 3, 3, 5)), NOTHING),
    "effort up by two to four": (replace(SOFT, efforts=scale_answers(2, 2, 4, 4, 4)), GOES_ON),
    "effort up by one": (replace(SOFT, efforts=scale_answers(4, 4, 5, 5)), NOTHING),
    "effort up, and decided already": (
        replace(SOFT, efforts=scale_answers(3, 3, 5, 5, is_new=False)), NOTHING,
    ),
    "effort up, one answer since the decision": (
        replace(SOFT, efforts=(*scale_answers(3, 3, 5, is_new=False), ScaleAnswer(TODAY, 5))), NOTHING,
    ),
    "effort up for two weeks": (replace(SOFT, efforts=scale_answers(3, 3, 6, 6, 6, step=8)), ("look_again", "worse_for_two_weeks")),
    "effort of a loud task down, twice": (replace(LOUD, efforts=scale_answers(9, 9, 7, 7)), ("call", "effort_down")),
    "effort of a loud task up": (replace(LOUD, efforts=scale_answers(8, 8, 10, 10, 10)), GOES_ON),
    "effort of a soft task down": (replace(SOFT, efforts=scale_answers(6, 6, 3, 3, 3)), GOES_ON),
    "the voice gets in the way more, twice": (replace(SOFT, bothers=scale_answers(3, 3, 5, 6, step=7)), ("ease_and_call", "bother_up")),
    "more in the way, once": (replace(SOFT, bothers=scale_answers(3, 3, 6, step=7)), GOES_ON),
    "a little more in the way": (replace(SOFT, bothers=scale_answers(3, 3, 4, 4, step=7)), GOES_ON),
    "asked once only": (replace(SOFT, bothers=scale_answers(9)), GOES_ON),
    "a loud task three decibels down": (replace(LOUD, levels=levels(12, 9)), ("call", "level_down")),
    "a soft task three decibels down is no decline": (replace(SOFT, levels=levels(12, 9)), GOES_ON),
    "a loud task two decibels down": (replace(LOUD, levels=levels(12, 10)), GOES_ON),
    "three decibels down on one day": (replace(LOUD, levels=levels(12, 9, days=1)), GOES_ON),
    "levels of two devices are never compared": (replace(LOUD, levels=levels(12, 9, other="laptop")), GOES_ON),
    "a level that was decided on": (replace(LOUD, levels=levels(12, 9), decline_since=ago(1)), GOES_ON),
    # Swap.
    "cannot do it, twice": (replace(SOFT, cannot=("a", "b")), ("swap", "cannot_do_it")),
    "cannot do it, once": (replace(SOFT, cannot=("a",)), GOES_ON),
    "swap outranks ease": (replace(SOFT, trials=HARD, cannot=("a", "b")), ("swap", "cannot_do_it")),
    "getting worse outranks swap": (replace(SOFT, trials=FALLEN, cannot=("a", "b")), ("ease_and_call", "holds_shorter")),
    "not felt six times running": (replace(FELT, felt=felt("no", "not_sure", "no", "no", "not_sure", "no")), ("swap", "not_felt")),
    "not felt five times": (replace(FELT, felt=felt("no", "not_sure", "no", "no", "no")), NOTHING),
    "felt once in between": (replace(FELT, felt=felt("no", "no", "no", "yes", "no", "no")), NOTHING),
    # Ease.
    "fewer than half in two sessions": (replace(SOFT, trials=HARD), ("ease", "few_on_target")),
    "three of eight may be chance": (
        replace(SOFT, trials=(*session(2, "nnyn"), *session(1, "nyny"))), ("stay", "more_sessions"),
    ),
    "just half": (replace(SOFT, trials=(*session(2, "ynyn"), *session(1, "ynyn"))), NOTHING),
    "one poor session is one day": (replace(SOFT, trials=session(1, "nnnn")), NOTHING),
    "two poor sessions of one day": (
        replace(SOFT, trials=(*session(1, "nnnn", name="a"), *session(1, "nnnn", name="b"))), NOTHING,
    ),
    "three tries judged in two sessions": (replace(SOFT, trials=(*session(2, "nn?"), *session(1, "n??"))), NOTHING),
    "four tries judged in two sessions": (
        replace(SOFT, trials=(*session(2, "nn"), *session(1, "nn"))), ("ease", "few_on_target"),
    ),
    "a poor fortnight ago is no evidence of now": (
        replace(SOFT, trials=(*session(15, "nnnn"), *session(14, "nnnn"))), NOTHING,
    ),
    "poor under another target": (
        replace(SOFT, trials=tuple(replace(each, had_other_prescription=True) for each in HARD)), NOTHING,
    ),
    "eased already": (replace(SOFT, trials=old(HARD), since=TODAY), NOTHING),
    "eased already, poor again since": (
        replace(SOFT, trials=(*old(session(4, "nnnn")), *HARD), since=ago(3)), ("ease", "few_on_target"),
    ),
    "poor at the foot of the ladder": (replace(SOFT, trials=HARD, can_ease=False), ("check_in", "few_on_target")),
    "what was not judged counts for neither": (replace(SOFT, trials=(*session(2, "y???"), *session(1, "yn??"))), NOTHING),
    "nothing at all was judged": (replace(SOFT, trials=(*session(2, "????"), *session(1, "????"))), NOTHING),
    "effort of seven in two sessions outranks success": (replace(SOFT, efforts=scale_answers(6, 7, 7)), ("ease", "effort_high")),
    "effort of seven once": (replace(SOFT, efforts=scale_answers(6, 6, 7)), NOTHING),
    "effort of six twice": (replace(SOFT, efforts=scale_answers(6, 6, 6)), NOTHING),
    "effort of seven, two weeks ago": (replace(SOFT, efforts=scale_answers(7, 7, step=14)), NOTHING),
    "a loud task may be hard": (replace(LOUD, efforts=scale_answers(9, 9, 9)), GOES_ON),
    "strain once this week": (replace(LOUD, strained_on=(ago(1),)), NOTHING),
    "strain twice this week": (replace(LOUD, strained_on=(ago(6), ago(1)), newly_strained_on=(ago(6), ago(1))), ("ease", "strain_said")),
    "strain seven days apart": (replace(LOUD, strained_on=(ago(7), ago(0)), newly_strained_on=(ago(7), ago(0))), NOTHING),
    "said once, and stopped a session once": (
        replace(LOUD, strained_on=(ago(3), ago(1)), newly_strained_on=(ago(3), ago(1))), ("ease", "strain_said"),
    ),
    "sessions stopped for strain in the soft school": (
        replace(SOFT, strained_on=(ago(1), ago(2)), newly_strained_on=(ago(1), ago(2))), ("ease", "strain_said"),
    ),
    "one session stopped blocks advancing": (replace(SOFT, strained_on=(ago(1),)), NOTHING),
    "strain two weeks ago": (replace(LOUD, strained_on=(ago(14),)), GOES_ON),
    "everything before a flag was cleared": (replace(SOFT, trials=old(SOFT.trials)), NOTHING),
    "no target in seconds eases within the taper": (replace(SOFT, trials=HARD, is_in_taper=True, peak_s=20.0), NOTHING),
    "strain within the taper is somebody's to look at": (
        replace(SOFT, strained_on=(ago(1), ago(2)), newly_strained_on=(ago(1), ago(2)), is_in_taper=True, peak_s=20.0), ("check_in", "strain_said"),
    ),
    # Check in.
    "three due days without a session": (Case(TODAY, due_days_missed=3), ("check_in", "days_missed")),
    "two due days": (Case(TODAY, due_days_missed=2), NOTHING),
    "under three fifths in a fortnight": (Case(TODAY, adherence_14=0.59), ("check_in", "adherence_low")),
    "under three fifths, and asked about already": (Case(TODAY, adherence_14=0.59, has_recent_check_in=True), NOTHING),
    "three fifths": (Case(TODAY, adherence_14=0.6), NOTHING),
    "nothing was due": (Case(TODAY), NOTHING),
    "too tired in half the sessions": (replace(SOFT, tired=(3, 6)), ("check_in", "too_tired")),
    "too tired in fewer": (replace(SOFT, tired=(2, 6)), GOES_ON),
    "too tired in two of three": (replace(SOFT, tired=(2, 3)), GOES_ON),
    "nothing could be judged in three sessions": (
        replace(SOFT, trials=daily(3, 1, 10.0, "??")), ("check_in", "nothing_judged"),
    ),
    "nothing could be judged in two": (replace(SOFT, trials=daily(2, 1, 10.0, "??")), NOTHING),
    "one try of three sessions was judged": (
        replace(SOFT, trials=(*daily(3, 2, 10.0, "??"), *session(1, "y?"))), ("check_in", "much_not_judged"),
    ),
    "what has no measure cannot be judged": (replace(FELT, trials=daily(3, 1, 10.0, "??")), NOTHING),
    "nothing judged, and asked about since": (replace(SOFT, trials=old(daily(3, 1, 10.0, "??")), since=TODAY), NOTHING),
    "a month under one target, two thirds reached, no rise": (STUCK, ("check_in", "stuck")),
    "the same while it rises": (replace(STUCK, trials=grown(STUCK.trials)), NOTHING),
    "the same with a trend not known": (replace(STUCK, trials=daily(20, 1, None, "yyn")), NOTHING),
    "the same for four weeks less a day": (replace(STUCK, same_target_since=ago(27)), NOTHING),
    "seldom practised is not stuck": (replace(STUCK, trials=STUCK.trials[:21]), NOTHING),
    "ease outranks check in": (replace(SOFT, trials=HARD, due_days_missed=5), ("ease", "few_on_target")),
    "check in outranks a complete block": (replace(BLOCK, adherence_14=0.4), ("check_in", "adherence_low")),
    # Block complete, and the taper.
    "the goal on two days running": (BLOCK, ("start_taper", "goal_reached")),
    "the goal on one day": (replace(BLOCK, block_means=((ago(1), 19.9), (TODAY, 20.5))), NOTHING),
    "reached, lost, reached": (
        replace(BLOCK, block_means=((ago(2), 21.0), (ago(1), 19.0), (TODAY, 21.0))), NOTHING,
    ),
    "reached twice, eight days apart": (replace(BLOCK, block_means=((ago(8), 21.0), (TODAY, 21.0))), NOTHING),
    "reached twice, seven days apart": (
        replace(BLOCK, block_means=((ago(7), 21.0), (TODAY, 21.0))), ("start_taper", "goal_reached"),
    ),
    "reached with effort": (replace(BLOCK, efforts=scale_answers(3, 3, 5)), NOTHING),
    "reached, and effort never asked": (replace(BLOCK, efforts=()), NOTHING),
    "refused: the same two days do not ask again": (
        replace(BLOCK, since=TODAY, efforts=scale_answers(3, 3, is_new=False)), NOTHING,
    ),
    "refused: one new day is not two": (
        replace(BLOCK, since=ago(1), efforts=scale_answers(3)), NOTHING,
    ),
    "no goal was ever set": (replace(BLOCK, goal_s=None), NOTHING),
    "ease outranks a complete block": (replace(BLOCK, trials=HARD), ("ease", "few_on_target")),
    "a block that nobody has practised for a week": (replace(BLOCK, last_session_on=ago(7)), NOTHING),
    "the taper goes on while the hold is kept": (TAPERING, ("taper_on", "peak_kept")),
    "under 85 % of the peak it goes back a step": (
        replace(TAPERING, block_means=((ago(2), 16.5), (TODAY, 17.0))), ("taper_back", "peak_lost"),
    ),
    "exactly 85 % is kept": (replace(TAPERING, block_means=((TODAY, 17.0),)), ("taper_on", "peak_kept")),
    "there is nothing before the first week": (
        replace(TAPERING, taper_week=1, block_means=((ago(1), 15.0), (TODAY, 15.0))), ("check_in", "peak_lost"),
    ),
    "after the last week: maintenance": (replace(TAPERING, taper_week=7), ("maintain", "peak_kept")),
    "a week a step": (replace(TAPERING, taper_since=ago(6)), NOTHING),
    "after its week the step goes on": (replace(TAPERING, taper_since=ago(7)), ("taper_on", "peak_kept")),
    "back after two days when the hold is lost": (
        replace(TAPERING, taper_since=ago(2), block_means=((ago(1), 16.0), (TODAY, 16.0))), ("taper_back", "peak_lost"),
    ),
    "one short day is one occasion": (
        replace(TAPERING, taper_since=ago(2), block_means=((TODAY, 16.0),)), NOTHING,
    ),
    "what was held before this step says nothing of it": (
        replace(TAPERING, taper_since=ago(1), block_means=((ago(3), 12.0), (ago(2), 12.0))), NOTHING,
    ),
    "a step taken today is not taken twice": (replace(TAPERING, taper_since=TODAY, since=TODAY), NOTHING),
    "a taper week without practice says nothing": (replace(TAPERING, block_means=((ago(9), 18.0),)), NOTHING),
    "the absent do not taper": (replace(TAPERING, last_session_on=ago(9)), NOTHING),
    "nothing advances in a taper": (replace(SOFT, is_in_taper=True, peak_s=20.0), NOTHING),
    # Advance.
    "four of five on target, easily": (SOFT, GOES_ON),
    "three of four on target": (
        replace(SOFT, trials=(*session(3, "yyyn"), *session(2, "yyyn"), *session(1, "yyyn"))), NOTHING,
    ),
    "all three sessions on one day": (
        replace(SOFT, trials=tuple(t for name in "abc" for t in session(1, "yyyy", name=name))), NOTHING,
    ),
    "four tries, one of them not judged": (
        replace(SOFT, trials=(*session(3, "yyyy"), *session(2, "yyy?"), *session(1, "yyyy"))), NOTHING,
    ),
    "two sessions only": (replace(SOFT, trials=(*session(2, "yyyy"), *session(1, "yyyy"))), NOTHING),
    "three sessions reach back three weeks": (
        replace(
            SOFT, trials=(*session(19, "yyyy"), *session(10, "yyyy"), *session(1, "yyyy")), efforts=scale_answers(3, 3, 3, step=9),
        ), GOES_ON,
    ),
    "the first of them more than three weeks ago": (
        replace(SOFT, trials=(*session(21, "yyyy"), *session(10, "yyyy"), *session(1, "yyyy"))), NOTHING,
    ),
    "three tries where four are prescribed": (replace(SOFT, trials=FEW), NOTHING),
    "twelve tries where three are prescribed": (replace(SOFT, trials=FEW, tries_prescribed=3), GOES_ON),
    "eleven tries where three are prescribed": (replace(SOFT, trials=FEW[1:], tries_prescribed=3), NOTHING),
    "twelve tries on two days": (
        replace(SOFT, trials=(*session(2, "yyyyyy"), *session(1, "yyyyyy")), tries_prescribed=3), NOTHING,
    ),
    "effort of five on a soft task": (replace(SOFT, efforts=scale_answers(5, 4, 4)), NOTHING),
    "effort of five in the first of the three": (replace(SOFT, efforts=scale_answers(4, 4, 5)), NOTHING),
    "effort was never asked": (replace(SOFT, efforts=()), NOTHING),
    "effort was asked in two of the three": (replace(SOFT, efforts=scale_answers(3, 3)), NOTHING),
    "a loud task done without effort": (replace(LOUD, efforts=scale_answers(6, 8, 8)), NOTHING),
    "a loud task done purposefully": (LOUD, GOES_ON),
    "more than a fifth within a week": (replace(SOFT, seconds_a_week_ago=9.0), ("stay", "enough_this_week")),
    "just a fifth within a week": (replace(SOFT, seconds_a_week_ago=10.0), GOES_ON),
    "from a target under three seconds always a rung": (
        replace(SOFT, seconds_now=2.0, next_seconds=2.5, seconds_a_week_ago=2.0), GOES_ON,
    ),
    "breath counts and hisses are not capped": (replace(SOFT, seconds_a_week_ago=9.0, is_capped=False), GOES_ON),
    "at the top of its ladder": (replace(SOFT, can_advance=False), ("stay", "top_of_ladder")),
    "on target, and not there for a week": (replace(SOFT, last_session_on=ago(7)), ("stay", "absent")),
    "taken: the same tries do not advance it again": (replace(SOFT, trials=old(GOOD), since=TODAY), NOTHING),
    "felt right three times": (replace(FELT, felt=felt("no", "yes", "yes", "yes")), ("advance", "felt_right")),
    "felt right in three sessions of one day": (
        replace(FELT, felt=tuple(FeltCheck(ago(1), name, "yes") for name in "abc")), NOTHING,
    ),
    "felt right three times in one session": (
        replace(FELT, felt=tuple(FeltCheck(ago(days), "a", "yes") for days in (3, 2, 1))), NOTHING,
    ),
    "felt right, with effort": (replace(FELT, felt=felt("yes", "yes", "yes"), efforts=scale_answers(6, 6, 6)), NOTHING),
    "not sure once": (replace(FELT, felt=felt("yes", "not_sure", "yes")), NOTHING),
    "felt right twice": (replace(FELT, felt=felt("yes", "yes")), NOTHING),
}  # fmt: skip


@pytest.mark.parametrize(("case", "wanted"), TABLE.values(), ids=TABLE)
def test_what_is_proposed(case, wanted):
    found = propose(case)
    step, reason = wanted
    assert found.step == step
    assert reason in (None, found.reason)


def test_every_rule_speaks_and_every_reason_is_given_somewhere():
    assert len(TABLE) >= 120
    assert {rule.__name__ for rule in RULES} == {
        "red_flag_open", "getting_worse", "swap", "ease", "block_complete", "advance", "check_in",
    }  # fmt: skip


def test_an_advance_says_what_it_rests_on_and_what_it_would_set():
    found = propose(SOFT)
    assert found.evidence == tuple(trial.key for trial in GOOD)
    assert found.to_seconds == 12
    assert found.facts["share"] == pytest.approx(11 / 12)


def test_a_decline_says_its_two_means():
    found = propose(replace(SOFT, trials=FALLEN))
    assert found.facts["now_s"] == pytest.approx(9.5)
    assert found.facts["usual_s"] == pytest.approx(12.0)
    assert found.otherwise is Step.LOOK_AGAIN


def test_a_programme_may_have_its_own_thresholds():
    strict = Settings(advance_share=0.95)
    assert propose(SOFT, strict).step is Step.STAY
    assert advance(SOFT, Settings()).step is Step.ADVANCE


def test_the_taper_grows_lighter_week_by_week():
    tries = [
        week.repetitions * week.a_day * week.days * (2 if week.tasks == "all" else 1)
        for week in TAPER
    ]
    assert tries == sorted(tries, reverse=True)
    assert (TAPER[-1].tasks, TAPER[-1].days) == ("power", 1)


def test_the_most_pressing_of_several_says_what_a_client_needs():
    worse = propose(replace(SOFT, trials=FALLEN))
    assert most_pressing_need([propose(SOFT), worse]) is Need.WORSE
    assert most_pressing_need([propose(SOFT)]) is Need.DECISION
    assert most_pressing_need([propose(Case(TODAY, due_days_missed=3))]) is Need.CHECK_IN
    assert most_pressing_need([propose(replace(SOFT, open_flags=("x",))), worse]) is Need.STOP
    assert most_pressing_need([]) is Need.ON_COURSE
    assert most_pressing_need([], has_programme=False) is Need.NO_PROGRAMME
    assert most_pressing_need([worse], has_programme=False) is Need.WORSE


def test_thresholds_keep_to_their_ranges():
    assert changed_settings({}) == Settings()
    assert changed_settings({"advance_share": 0.9, "missed_days": 5.0}) == Settings(
        advance_share=0.9, missed_days=5
    )
    with pytest.raises(ValueOutOfRange):
        changed_settings({"advance_share": 1.2})
    assert set(RANGES) == set(Settings.__dataclass_fields__)


def test_one_note_eases_the_whole_item_and_says_which():
    poor = replace(SOFT, trials=HARD)
    worst = replace(SOFT, trials=(*session(2, "nnnn"), *session(1, "nnnn")))
    place, found = propose_together((SOFT, poor, worst))
    assert (place, found.step) == (2, Step.EASE)


def test_an_item_advances_only_when_every_note_does_and_names_the_weakest():
    weaker = replace(SOFT, trials=(*session(3, "yyyn"), *session(2, "yyyn"), *session(1, "yyyy")))
    place, found = propose_together((SOFT, weaker, SOFT))
    assert (place, found.step) == (1, Step.ADVANCE)
    untried = replace(SOFT, trials=())
    assert propose_together((SOFT, untried))[1].step is Step.STAY
    topped = replace(SOFT, can_advance=False)
    assert propose_together((SOFT, topped))[1].reason == "top_of_ladder"


def test_the_peak_of_a_block_is_its_best_week():
    means = ((ago(20), 24.0), (ago(19), 26.0), (ago(1), 20.0), (TODAY, 21.0))
    found = propose(replace(BLOCK, block_means=means))
    assert found.facts["peak_s"] == pytest.approx(25.0)
