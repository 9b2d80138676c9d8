"""What is proposed and why, as a table a clinician can read; the silent cases too."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from reedcore.decisions import (
    RANGES,
    RULES,
    TAPER,
    Case,
    Effort,
    Level,
    Need,
    Settings,
    Step,
    Tried,
    most_pressing,
    propose,
    settings_with,
)
from reedcore.decisions.rules import advance
from reedcore.errors import ValueOutOfRange

TODAY = date(2026, 11, 25)


def ago(days):
    return TODAY - timedelta(days=days)


def session(days_ago, on_target, *, held_s=10.0, name=""):
    """Trials of one session: a string such as ``yyn?``, where ? was not judged."""
    said = {"y": True, "n": False, "?": None}
    return tuple(
        Tried(f"{days_ago}{name}-{place}", f"{days_ago}{name}", ago(days_ago), said[letter], held_s)
        for place, letter in enumerate(on_target)
    )


def efforts(*values, step=1):
    """The newest today, one a day (or every ``step`` days) before it."""
    return tuple(Effort(ago(step * back), value) for back, value in enumerate(values))[::-1]


def daily(first_days_ago, last_days_ago, held_s, on_target="yy"):
    """A session a day between two days, each as long."""
    return tuple(
        trial
        for days in range(first_days_ago, last_days_ago - 1, -1)
        for trial in session(days, on_target, held_s=held_s)
    )


GOOD = (*session(3, "yyyy"), *session(2, "yyyn"), *session(1, "yyyy"))
HARD = (*session(2, "nnyn"), *session(1, "nyny"))
EASY_WORK = efforts(3, 3, 4)
FALLEN = (*daily(25, 8, 12.0, "yyyy"), *daily(6, 0, 9.5, "yyyy"))
SOFT = Case(today=TODAY, trials=GOOD, efforts=EASY_WORK, seconds_now=10, next_seconds=12)
LOUD = replace(SOFT, loud=True, efforts=efforts(8, 9, 8))
FEW = tuple(trial for days in range(4, 0, -1) for trial in session(days, "yyy"))
BLOCK = Case(today=TODAY, goal_s=20.0, block_means=((ago(3), 19.0), (ago(1), 20.5), (TODAY, 20.1)))
TAPERING = replace(BLOCK, taper_week=3, peak_s=20.0, block_means=((ago(2), 18.0), (TODAY, 18.4)))
STUCK = Case(
    today=TODAY, trials=daily(20, 1, 10.0, "yyn"), efforts=EASY_WORK, same_target_since=ago(30), rising=False,
)  # fmt: skip

#: name → (case, step, because)
TABLE = {
    # red flag
    "an open flag stops everything": (replace(SOFT, open_flags=("lump",)), "stop_and_refer", "red_flag_open"),
    "a flag outranks getting worse": (
        replace(SOFT, trials=FALLEN, change_limit_s=1.0, open_flags=("lump",)), "stop_and_refer", "red_flag_open",
    ),
    "a flag outranks a block that is complete": (replace(BLOCK, open_flags=("x",)), "stop_and_refer", "red_flag_open"),
    # getting worse
    "a fifth shorter and beyond chance": (
        replace(SOFT, trials=FALLEN, change_limit_s=1.0), "ease_and_call", "holds_shorter",
    ),
    "a fifth shorter but within chance": (replace(SOFT, trials=FALLEN, change_limit_s=4.0), "advance", "most_on_target"),
    "a fifth shorter, chance unknown": (replace(SOFT, trials=FALLEN), "advance", "most_on_target"),
    "a tenth shorter": (
        replace(SOFT, trials=(*daily(25, 8, 12.0, "yyyy"), *daily(6, 0, 10.8, "yyyy")), change_limit_s=0.5),
        "advance", "most_on_target",
    ),
    "two practised days are no week": (
        replace(SOFT, trials=(*daily(25, 8, 12.0, "yyyy"), *session(1, "yyyy", held_s=9.0), *session(0, "yyyy", held_s=9.0)), change_limit_s=1.0),
        "advance", "most_on_target",
    ),
    "nothing before to compare with": (
        replace(SOFT, trials=daily(6, 0, 9.5, "yyyy"), change_limit_s=1.0), "advance", "most_on_target",
    ),
    "worse for two weeks: another look at the larynx": (
        replace(SOFT, trials=FALLEN, change_limit_s=1.0, worse_since=ago(14)), "look_again", "worse_for_two_weeks",
    ),
    "worse for thirteen days: not yet": (
        replace(SOFT, trials=FALLEN, change_limit_s=1.0, worse_since=ago(13)), "ease_and_call", "holds_shorter",
    ),
    "effort up by two": (replace(SOFT, efforts=(Effort(ago(9), 2), Effort(ago(1), 4))), "ease_and_call", "effort_up"),
    "effort up by one": (replace(SOFT, efforts=(Effort(ago(9), 3), Effort(ago(1), 4))), "advance", "most_on_target"),
    "effort up, last asked long ago": (
        replace(SOFT, efforts=(Effort(ago(20), 1), Effort(ago(1), 4))), "advance", "most_on_target",
    ),
    "the voice gets in the way more": (
        replace(SOFT, bothers=((ago(8), 3), (ago(1), 5))), "ease_and_call", "bother_up",
    ),
    "a little more in the way": (replace(SOFT, bothers=((ago(8), 3), (ago(1), 4))), "advance", "most_on_target"),
    "asked once only": (replace(SOFT, bothers=((ago(1), 9),)), "advance", "most_on_target"),
    "a loud task three decibels down": (
        replace(LOUD, levels=(Level(ago(10), 12), Level(ago(1), 9))), "ease_and_call", "level_down",
    ),
    "a soft task three decibels down is no decline": (
        replace(SOFT, levels=(Level(ago(10), 12), Level(ago(1), 9))), "advance", "most_on_target",
    ),
    "a loud task two decibels down": (
        replace(LOUD, levels=(Level(ago(10), 12), Level(ago(1), 10))), "advance", "most_on_target",
    ),
    # swap
    "cannot do it, twice": (replace(SOFT, cannot=("a", "b")), "swap", "cannot_do_it"),
    "cannot do it, once": (replace(SOFT, cannot=("a",)), "advance", "most_on_target"),
    "swap outranks ease": (replace(SOFT, trials=HARD, cannot=("a", "b")), "swap", "cannot_do_it"),
    "getting worse outranks swap": (
        replace(SOFT, trials=FALLEN, change_limit_s=1.0, cannot=("a", "b")), "ease_and_call", "holds_shorter",
    ),
    # ease
    "fewer than half in two sessions": (replace(SOFT, trials=HARD), "ease", "few_on_target"),
    "just half": (
        replace(SOFT, trials=(*session(2, "ynyn"), *session(1, "ynyn"))), "stay", "nothing_stands_out",
    ),
    "one poor session is one day": (replace(SOFT, trials=session(1, "nnnn")), "stay", "nothing_stands_out"),
    "what was not judged counts for neither": (
        replace(SOFT, trials=(*session(2, "y???"), *session(1, "yn??"))), "stay", "nothing_stands_out",
    ),
    "nothing at all was judged": (
        replace(SOFT, trials=(*session(2, "????"), *session(1, "????"))), "stay", "nothing_stands_out",
    ),
    "effort outranks success": (replace(SOFT, efforts=efforts(7, 6, 6)), "ease", "effort_high"),
    "a loud task may be hard": (replace(LOUD, efforts=efforts(9, 9, 9)), "advance", "most_on_target"),
    "strain once this week": (replace(LOUD, strained_on=(ago(1),)), "stay", "nothing_stands_out"),
    "strain twice this week": (replace(LOUD, strained_on=(ago(1), ago(6))), "ease", "strain_said"),
    "strain seven days apart": (
        replace(LOUD, strained_on=(ago(0), ago(7))), "stay", "nothing_stands_out",
    ),
    "said once, and stopped a session once": (
        replace(LOUD, strained_on=(ago(1),), stopped_on=(ago(3),)), "ease", "strain_said",
    ),
    "sessions stopped for strain in the soft school": (
        replace(SOFT, stopped_on=(ago(1), ago(2))), "ease", "strain_said",
    ),
    "one session stopped blocks advancing": (
        replace(SOFT, stopped_on=(ago(1),)), "stay", "nothing_stands_out",
    ),
    "everything before a flag was cleared": (
        replace(SOFT, trials=tuple(replace(each, anew=False) for each in SOFT.trials)),
        "stay", "nothing_stands_out",
    ),
    "strain two weeks ago": (replace(LOUD, strained_on=(ago(14),)), "advance", "most_on_target"),
    # block complete and the taper
    "the goal on two days running": (BLOCK, "start_taper", "goal_reached"),
    "the goal on one day": (
        replace(BLOCK, block_means=((ago(1), 19.9), (TODAY, 20.5))), "stay", "nothing_stands_out",
    ),
    "reached, lost, reached": (
        replace(BLOCK, block_means=((ago(2), 21.0), (ago(1), 19.0), (TODAY, 21.0))), "stay", "nothing_stands_out",
    ),
    "no goal was ever set": (replace(BLOCK, goal_s=None), "stay", "nothing_stands_out"),
    "ease outranks a complete block": (
        replace(BLOCK, trials=HARD), "ease", "few_on_target",
    ),
    "the taper goes on while the hold is kept": (TAPERING, "taper_on", "peak_kept"),
    "under 85 % of the peak it goes back a step": (
        replace(TAPERING, block_means=((ago(2), 16.5), (TODAY, 17.0))), "taper_back", "peak_lost",
    ),
    "exactly 85 % is kept": (replace(TAPERING, block_means=((TODAY, 17.0),)), "taper_on", "peak_kept"),
    "there is nothing before the first week": (
        replace(TAPERING, taper_week=1, block_means=((TODAY, 15.0),)), "stay", "peak_lost",
    ),
    "after the last week: maintenance": (replace(TAPERING, taper_week=7), "maintain", "peak_kept"),
    "a week a step": (replace(TAPERING, taper_since=ago(6)), "stay", "nothing_stands_out"),
    "after its week the step goes on": (replace(TAPERING, taper_since=ago(7)), "taper_on", "peak_kept"),
    "back at once when the hold is lost": (
        replace(TAPERING, taper_since=ago(2), block_means=((TODAY, 16.0),)), "taper_back", "peak_lost",
    ),
    "a taper week without practice says nothing": (
        replace(TAPERING, block_means=((ago(9), 18.0),)), "stay", "nothing_stands_out",
    ),
    "nothing advances in a taper": (
        replace(SOFT, taper_week=3, peak_s=20.0), "stay", "nothing_stands_out",
    ),
    # advance
    "four of five on target, easily": (SOFT, "advance", "most_on_target"),
    "three of four on target": (
        replace(SOFT, trials=(*session(3, "yyyn"), *session(2, "yyyn"), *session(1, "yyyn"))), "stay", "nothing_stands_out",
    ),
    "all three sessions on one day": (
        replace(SOFT, trials=tuple(t for name in "abc" for t in session(1, "yyyy", name=name))), "stay", "nothing_stands_out",
    ),
    "four tries, one of them not judged": (
        replace(SOFT, trials=(*session(3, "yyyy"), *session(2, "yyy?"), *session(1, "yyyy"))),
        "stay", "nothing_stands_out",
    ),
    "two sessions only": (
        replace(SOFT, trials=(*session(2, "yyyy"), *session(1, "yyyy"))), "stay", "nothing_stands_out",
    ),
    "three tries where four are prescribed": (
        replace(SOFT, trials=FEW), "stay", "nothing_stands_out",
    ),
    "twelve tries where three are prescribed": (
        replace(SOFT, trials=FEW, tries_prescribed=3), "advance", "most_on_target",
    ),
    "eleven tries where three are prescribed": (
        replace(SOFT, trials=FEW[1:], tries_prescribed=3), "stay", "nothing_stands_out",
    ),
    "effort of five on a soft task": (replace(SOFT, efforts=efforts(5, 4, 4)), "stay", "nothing_stands_out"),
    "effort was never asked": (replace(SOFT, efforts=()), "stay", "nothing_stands_out"),
    "a loud task done without effort": (replace(LOUD, efforts=efforts(6, 8, 8)), "stay", "nothing_stands_out"),
    "a loud task done purposefully": (LOUD, "advance", "most_on_target"),
    "no more than a fifth within a week": (
        replace(SOFT, seconds_a_week_ago=9.0), "stay", "nothing_stands_out",
    ),
    "just a fifth within a week": (replace(SOFT, seconds_a_week_ago=10.0), "advance", "most_on_target"),
    "felt right three times": (Case(TODAY, measured=False, felt=("no", "yes", "yes", "yes")), "advance", "felt_right"),
    "not sure once": (Case(TODAY, measured=False, felt=("yes", "not_sure", "yes")), "stay", "nothing_stands_out"),
    "felt right twice": (Case(TODAY, measured=False, felt=("yes", "yes")), "stay", "nothing_stands_out"),
    # check in
    "three due days without a session": (Case(TODAY, due_days_missed=3), "check_in", "days_missed"),
    "two due days": (Case(TODAY, due_days_missed=2), "stay", "nothing_stands_out"),
    "under three fifths in a fortnight": (Case(TODAY, adherence_14=0.59), "check_in", "adherence_low"),
    "three fifths": (Case(TODAY, adherence_14=0.6), "stay", "nothing_stands_out"),
    "nothing was due": (Case(TODAY), "stay", "nothing_stands_out"),
    "nothing could be judged in five sessions": (
        replace(SOFT, trials=daily(5, 1, 10.0, "??")), "check_in", "nothing_judged",
    ),
    "one try of five sessions was judged": (
        replace(SOFT, trials=(*daily(5, 2, 10.0, "??"), *session(1, "y?"))), "stay", "nothing_stands_out",
    ),
    "a month under one target, two thirds reached, no rise": (STUCK, "check_in", "stuck"),
    "the same while it rises": (replace(STUCK, rising=True), "stay", "nothing_stands_out"),
    "the same with a trend not known": (replace(STUCK, rising=None), "stay", "nothing_stands_out"),
    "the same for four weeks less a day": (
        replace(STUCK, same_target_since=ago(27)), "stay", "nothing_stands_out",
    ),
    "seldom practised is not stuck": (
        replace(STUCK, trials=STUCK.trials[:21]), "stay", "nothing_stands_out",
    ),
    "ease outranks check in": (
        replace(SOFT, trials=HARD, due_days_missed=5), "ease", "few_on_target",
    ),
}  # fmt: skip


@pytest.mark.parametrize(("case", "step", "because"), TABLE.values(), ids=TABLE)
def test_what_is_proposed(case, step, because):
    found = propose(case)
    assert (found.step, found.because) == (step, because)


def test_every_rule_speaks_and_every_reason_is_given_somewhere():
    assert len(TABLE) >= 40
    assert {rule.__name__ for rule in RULES} == {
        "red_flag_open", "getting_worse", "swap", "ease", "block_complete", "advance", "check_in",
    }  # fmt: skip


def test_an_advance_says_what_it_rests_on_and_what_it_would_set():
    found = propose(SOFT)
    assert found.rests_on == tuple(trial.key for trial in GOOD)
    assert found.to_seconds == 12
    assert found.facts["share"] == pytest.approx(11 / 12)


def test_a_decline_says_its_two_means():
    found = propose(replace(SOFT, trials=FALLEN, change_limit_s=1.0))
    assert found.facts == {"now_s": pytest.approx(9.5), "best_s": pytest.approx(12.0)}
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
    worse = propose(replace(SOFT, trials=FALLEN, change_limit_s=1.0))
    assert most_pressing([propose(SOFT), worse]) is Need.WORSE
    assert most_pressing([propose(SOFT)]) is Need.DECISION
    assert most_pressing([propose(Case(TODAY, due_days_missed=3))]) is Need.CHECK_IN
    assert most_pressing([propose(replace(SOFT, open_flags=("x",))), worse]) is Need.STOP
    assert most_pressing([]) is Need.ON_COURSE


def test_thresholds_keep_to_their_ranges():
    assert settings_with({}) == Settings()
    assert settings_with({"advance_share": 0.9, "missed_days": 5.0}) == Settings(
        advance_share=0.9, missed_days=5
    )
    with pytest.raises(ValueOutOfRange):
        settings_with({"advance_share": 1.2})
    assert set(RANGES) == set(Settings.__dataclass_fields__)
