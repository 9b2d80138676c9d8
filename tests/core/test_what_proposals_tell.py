"""The contents of every proposal besides its step: figures, evidence, the alternative, and the
limits between two answers."""

from dataclasses import replace
from datetime import datetime, timedelta

import pytest

from reedcore.decisions import (
    FeltCheck,
    LoudLevel,
    ScaleAnswer,
    Settings,
    changed_settings,
    propose,
)
from reedcore.decisions.contact import check_in
from reedcore.decisions.declining import getting_worse
from reedcore.decisions.easing import ease, swap
from reedcore.decisions.presence import is_present
from reedcore.errors import ValueOutOfRange
from reedcore.safety import Flag, Tier
from reedcore.safety.stops import consequence, escalated_at, mail_due_at
from tests.core.test_decisions import FALLEN, HERE, SOFT, TABLE, TODAY, ago, grown, session

#: Names of the figures by reason.
_OF_SHARE = {"share", "met", "trials", "days"}
FACTS = {
    "red_flag_open": set(), "days_missed": {"days"}, "adherence_low": {"adherence"},
    "too_tired": {"times", "sessions"}, "nothing_judged": {"sessions", "judged", "trials"},
    "much_not_judged": {"sessions", "judged", "trials"}, "stuck": {"share", "days", "sessions"},
    "cannot_do_it": {"times"}, "not_felt": {"times"}, "strain_said": {"times"},
    "effort_high": {"effort"}, "few_on_target": _OF_SHARE,
    "holds_shorter": {"now_s", "usual_s", "days"},
    "effort_up": {"now", "before"}, "effort_down": {"now", "before"},
    "bother_up": {"now", "before"}, "level_down": {"now_db", "before_db"},
    "goal_reached": {"goal_s", "mean_s", "peak_s"}, "peak_kept": {"kept", "peak_s", "week"},
    "peak_lost": {"kept", "peak_s", "week"}, "most_on_target": _OF_SHARE,
    "felt_right": {"times", "days"}, "absent": set(), "not_begun": set(), "in_taper": set(),
    "more_sessions": {"sessions", "wanted"}, "between": {"share", "met", "trials", "needed"},
    "felt_check": {"times"},
    # Why a successful task does not advance: the figures of the obstacle.
    **dict.fromkeys((
        "top_of_ladder", "at_its_goal", "enough_this_week", "strain_lately", "sinking",
        "effort_not_asked", "effort_too_high", "effort_too_low", "next_not_shown",
        "worse_for_two_weeks",
    )),
}  # fmt: skip


@pytest.mark.parametrize("name", TABLE)
def test_a_proposal_carries_the_figures_of_its_sentence(name):
    case, _ = TABLE[name]
    found = propose(case)
    asked = FACTS[found.reason.value]
    if asked is not None:
        assert set(found.facts) == asked
    assert all(isinstance(value, float | int) for value in found.facts.values())


FEW = (*session(2, "nnyn"), *session(1, "nynn"))
KEYS = tuple(trial.key for trial in FEW)
EASES = replace(HERE, trials=FEW, seconds_now=10, next_seconds=12)
HARD = (ScaleAnswer(ago(2), 8, session="2"), ScaleAnswer(ago(1), 7, session="1"))


@pytest.mark.parametrize(
    ("case", "step", "facts", "otherwise"),
    [
        (EASES, "ease", {"share": 1 / 4, "met": 2.0, "trials": 8.0, "days": 2.0}, "stay"),
        (replace(EASES, efforts=HARD), "ease", {"effort": 7}, "swap"),
        (replace(EASES, newly_strained_on=(ago(1), ago(2))), "ease", {"times": 2.0}, "check_in"),
        (
            replace(EASES, can_ease=False),
            "check_in",
            {"share": 1 / 4, "met": 2.0, "trials": 8.0, "days": 2.0},
            "swap",
        ),
    ],
)
def test_easing_rests_on_the_last_two_sessions(case, step, facts, otherwise):
    found = ease(case, Settings())
    assert (found.step.value, found.facts, found.otherwise.value) == (step, facts, otherwise)
    assert found.evidence == KEYS


def test_a_swap_comes_from_the_clients_answers():
    said = swap(replace(HERE, cannot=("a", "b")), Settings())
    assert (said.evidence, said.facts, said.otherwise.value) == (("a", "b"), {"times": 2.0}, "ease")
    felt = tuple(FeltCheck(ago(back), f"s{back}", "no") for back in range(6, 0, -1))
    found = swap(replace(HERE, felt=felt), Settings())
    assert (found.facts, found.otherwise.value) == ({"times": 6.0}, "ease")
    assert swap(replace(HERE, felt=felt[1:]), Settings()) is None


def checked_in(**more):
    found = check_in(replace(HERE, **more), Settings())
    return (
        (found.reason.value, found.facts, found.otherwise.value, len(found.evidence))
        if found
        else None
    )


UNHEARD = (*session(3, "??"), *session(2, "??"), *session(1, "??"))
STUCK = tuple(trial for back in range(27, 0, -2) for trial in session(back, "yn"))


@pytest.mark.parametrize(
    ("more", "says"),
    [
        ({"due_days_missed": 3}, ("days_missed", {"days": 3.0}, "stay", 0)),
        ({"due_days_missed": 2}, None),
        ({"adherence_14": 0.59}, ("adherence_low", {"adherence": 0.59}, "ease", 0)),
        ({"adherence_14": 0.0}, ("adherence_low", {"adherence": 0.0}, "ease", 0)),
        ({"adherence_14": 0.6}, None),
        ({"adherence_14": 0.2, "has_recent_check_in": True}, None),
        ({"tired": (2, 4)}, ("too_tired", {"times": 2.0, "sessions": 4.0}, "ease", 0)),
        ({"tired": (2, 3)}, None),
        ({"tired": (1, 4)}, None),
        (
            {"trials": UNHEARD},
            ("nothing_judged", {"sessions": 3.0, "judged": 0.0, "trials": 6.0}, "stay", 6),
        ),
        ({"trials": UNHEARD[2:]}, None),
        ({"trials": UNHEARD, "is_measured": False}, None),
    ],
)
def test_a_check_in_at_its_limits(more, says):
    settings = Settings()
    assert (settings.missed_days, settings.low_adherence) == (3, 0.6)
    assert (settings.tired_share, settings.unheard_sessions) == (0.5, 3)
    assert checked_in(**more) == says


def test_stuck_at_its_limits():
    settings = Settings()
    long = settings.stuck_days
    trials = tuple(
        trial for back in range(long - 1, 0, -1) for trial in session(back, "yn", name=f"at {back}")
    )
    stuck = {"trials": trials, "same_target_since": ago(long)}
    reason, facts, otherwise, rests = checked_in(**stuck)
    assert (reason, otherwise) == ("stuck", "ease")
    assert facts == {"share": 0.5, "days": float(long), "sessions": long - 1.0}
    assert rests == len(trials)
    assert checked_in(**stuck | {"same_target_since": ago(long - 1)}) is None
    assert checked_in(**stuck | {"trials": grown(trials)}) is None
    unknown = tuple(replace(trial, held_s=None) for trial in trials)
    assert checked_in(**stuck | {"trials": unknown}) is None
    # A used decision already includes the trend, and no share.
    last = 2 * settings.stuck_sessions
    old = tuple(replace(each, is_new=False) for each in trials)
    assert checked_in(**stuck | {"trials": (*old[:-last], *trials[-last:])})[0] == "stuck"
    assert checked_in(**stuck | {"trials": (*old[: 2 - last], *trials[2 - last :])}) is None
    most = tuple(replace(each, was_on_target=True) for each in trials)
    assert checked_in(**stuck | {"trials": most}) is None


@pytest.mark.parametrize(
    ("more", "present"),
    [
        ({}, True),
        ({"last_session_on": ago(6)}, True),
        ({"last_session_on": ago(7)}, False),
        ({"last_session_on": None}, False),
        ({"adherence_14": 0.6}, True),
        ({"adherence_14": 0.59}, False),
        ({"adherence_14": None}, True),
    ],
)
def test_a_client_is_present_after_recent_practice(more, present):
    assert is_present(replace(HERE, **more), Settings()) is present


# Decline.


def rising(*values, first=10):
    return tuple(ScaleAnswer(ago(first - place), value) for place, value in enumerate(values))


@pytest.mark.parametrize(
    ("case", "says"),
    [
        (replace(SOFT, efforts=rising(3, 3, 5, 6)), ("effort_up", 5.5, 3.0)),
        (replace(SOFT, efforts=rising(3, 3, 4.9, 6)), None),
        (replace(SOFT, efforts=rising(2, 2, 4, 4)), None),  # A high rung that is still easy.
        (replace(SOFT, efforts=rising(3, 5, 5)), ("effort_up", 5.0, 3.0)),
        (replace(SOFT, is_loud=True, efforts=rising(9, 9, 7, 6)), ("effort_down", 6.5, 9.0)),
        (replace(SOFT, is_loud=True, efforts=rising(9, 9, 7.1, 6)), None),
        (replace(SOFT, bothers=rising(0, 0, 2, 2)), ("bother_up", 2.0, 0.0)),
        (replace(SOFT, bothers=rising(0, 0, 2)), None),
    ],
)
def test_two_answers_running_at_their_limit(case, says):
    found = getting_worse(case, Settings())
    told = (found.reason.value, found.facts["now"], found.facts["before"]) if found else None
    assert told == says


def levels(*weeks, device="tablet"):
    """Return (days ago, dB) of each week."""
    return tuple(LoudLevel(ago(back), db, device) for week in weeks for back, db in week)


BEFORE = [(13, 9.0), (10, 9.0), (7, 9.0)]


@pytest.mark.parametrize(
    ("now", "says"),
    [
        ([(6, 6.0), (3, 6.0), (1, 6.0)], {"now_db": 6.0, "before_db": 9.0}),
        ([(6, 6.1), (3, 6.1), (1, 6.1)], None),
        ([(3, 6.0), (1, 6.0)], {"now_db": 6.0, "before_db": 9.0}),
        ([(1, 6.0), (1, 6.0)], None),
    ],
)
def test_a_loud_voice_that_grows_softer_at_its_limit(now, says):
    case = replace(SOFT, is_loud=True, efforts=(), levels=levels(BEFORE, now))
    found = getting_worse(case, Settings())
    assert (found.facts if found else None) == says
    if found:
        assert (found.step.value, found.otherwise.value) == ("call", "look_again")
        # Evidence up to and including the decided day does not count now.
        assert getting_worse(replace(case, decline_since=ago(3)), Settings()) is None
        other = (*case.levels, LoudLevel(TODAY, 6.0, "headset"))
        assert getting_worse(replace(case, levels=other), Settings()) is None


def test_a_fortnight_of_it_asks_for_another_look():
    long = replace(SOFT, efforts=rising(3, 3, *[6] * 6, first=16))
    found = getting_worse(long, Settings())
    assert (found.step.value, found.reason.value, found.otherwise.value) == (
        "look_again", "worse_for_two_weeks", "call",
    )  # fmt: skip
    assert found.facts == {"now": 6.0, "before": 3.0}
    shorter = replace(SOFT, efforts=rising(3, 3, *[6] * 6, first=15))
    assert getting_worse(shorter, Settings()).reason.value == "effort_up"


def test_a_decline_rests_on_the_trials_of_the_week():
    found = getting_worse(replace(SOFT, trials=FALLEN), Settings())
    week = tuple(trial.key for trial in FALLEN if TODAY - trial.on < timedelta(days=7))
    assert 0 < len(week) < len(FALLEN)
    assert found.evidence == week
    assert (found.step.value, found.otherwise.value) == ("ease_and_call", "look_again")


# Thresholds and stops.


@pytest.mark.parametrize("value", [0.1, 1.0])
def test_a_threshold_may_stand_at_either_end_of_its_range(value):
    assert changed_settings({"low_adherence": value}).low_adherence == value


@pytest.mark.parametrize("value", [0.09, 1.01])
def test_a_threshold_beyond_it_is_refused_with_the_range(value):
    with pytest.raises(ValueOutOfRange) as refused:
        changed_settings({"low_adherence": value})
    assert refused.value.facts == {
        "what": "low_adherence", "value": value, "lowest": 0.1, "highest": 1.0,
    }  # fmt: skip


NOON = datetime(2026, 11, 25, 12, 0)
SECONDS = timedelta(seconds=1)


@pytest.mark.parametrize(
    ("emergency", "waiting", "last", "after"),
    [
        (True, 1, None, 0), (True, 3, None, 0), (True, 1, -30, 30), (True, 1, -90, 0),
        (False, 1, None, 30), (False, 2, None, 60), (False, 1, -10, 50), (False, 1, -40, 30),
        (False, 2, -10, 60),
    ],
)  # fmt: skip
def test_when_the_letter_about_a_stop_goes_out(emergency, waiting, last, after):
    due = mail_due_at(
        is_emergency=emergency, first_at=NOON, waiting=waiting,
        last_mail_at=None if last is None else NOON + last * SECONDS,
    )  # fmt: skip
    assert due == NOON + after * SECONDS


def test_an_unread_stop_of_the_weekend_counts_from_monday_midnight():
    saturday = datetime(2026, 11, 28, 13, 14, 15, 16)
    assert escalated_at(saturday) == datetime(2026, 12, 1)
    friday = datetime(2026, 11, 27, 13, 14)
    assert escalated_at(friday) == datetime(2026, 11, 30, 13, 14)


def test_the_most_urgent_of_several_counts():
    said = consequence([Flag.STRAIN, Flag.BREATHING, Flag.NEW_PAIN])
    assert said.tier is Tier.EMERGENCY
    assert consequence([Flag.STRAIN, Flag.NEW_PAIN]).tier is Tier.NO_MORE_VOICING
