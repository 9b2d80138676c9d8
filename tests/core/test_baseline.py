"""Maximum phonation, quotients, goals and ranges, compared with figures calculated by hand."""

from datetime import date, timedelta
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from reedcore.baseline import (
    AgainstReference,
    GoalSource,
    PitchRange,
    Plausibility,
    ReferenceRow,
    against_reference,
    best_hold_s,
    goal_from_s,
    goal_from_volume,
    longest_of,
    phonation_quotient,
    plausibility,
    reference_for,
    s_to_z_ratio,
    speaking_difference_st,
)
from reedcore.baseline.goals import todays_target_s
from reedcore.errors import PitchOutOfRange, ValueOutOfRange
from reedcore.ladders import (
    HISS_RUNGS_S,
    HOLD_RUNGS_S,
    personal_rungs_s,
    rung_above_s,
    rung_at_or_under_s,
    rung_below_s,
)
from reedcore.pitch import Note

DAY = date(2026, 11, 9)


def test_the_longest_of_three_states_the_number_of_trials():
    longest = longest_of([12.1, 14.8, 13.0], required_trials=3)
    assert (longest.seconds, longest.which, longest.trials, longest.enough) == (14.8, 1, 3, True)
    assert not longest_of([12.1], required_trials=3).enough
    assert longest_of([], required_trials=3) is None


@pytest.mark.parametrize("wrong", [0.0, -3.0, float("nan"), float("inf")])
def test_a_trial_of_no_length_is_refused(wrong):
    with pytest.raises(ValueOutOfRange):
        longest_of([10.0, wrong], required_trials=3)


@pytest.mark.parametrize(
    ("s", "z", "ratio", "caution"),
    [
        (21.0, 14.0, 1.5, True),
        (14.0, 10.0, 1.4, False),
        (14.1, 10.0, 1.41, True),
        (9, 12, 0.75, False),
    ],
)
def test_s_to_z_above_1_4_is_a_caution(s, z, ratio, caution):
    found = s_to_z_ratio(
        s=longest_of([s, s - 1], required_trials=2), z=longest_of([z], required_trials=2)
    )
    assert found.ratio == pytest.approx(ratio)
    assert found.is_cautioned is caution


def test_without_one_of_them_there_is_no_ratio():
    assert s_to_z_ratio(s=longest_of([20.0], required_trials=2), z=None) is None


def test_the_quotient_is_volume_over_seconds():
    assert phonation_quotient(vital_capacity_ml=3200, longest_s=16) == 200.0
    with pytest.raises(ValueOutOfRange):
        phonation_quotient(vital_capacity_ml=3200, longest_s=0)


def test_3200_ml_make_a_goal_of_40_and_a_stage_of_32_seconds():
    goal = goal_from_volume(3200, source=GoalSource.PHONATION_VOLUME, on=DAY)
    assert (goal.seconds, goal.stage_s, goal.is_capped) == (40.0, 32.0, False)
    assert goal.inputs == (("volume_ml", 3200),)
    assert goal.on == DAY


def test_no_goal_is_longer_than_45_seconds():
    goal = goal_from_volume(5000, source=GoalSource.VITAL_CAPACITY, on=DAY)
    assert (goal.seconds, goal.stage_s, goal.is_capped) == (45.0, 45.0, True)
    assert goal_from_s(60.0, on=DAY).seconds == 45.0


@pytest.mark.parametrize("volume", [12, -5, 20_000, float("nan")])
def test_an_impossible_lung_volume_is_refused(volume):
    with pytest.raises(ValueOutOfRange):
        goal_from_volume(volume, source=GoalSource.PHONATION_VOLUME, on=DAY)


@given(st.floats(300, 9000), st.floats(300, 9000))
def test_more_air_never_makes_a_shorter_goal(one, other):
    less, more = sorted((one, other))
    goals = [goal_from_volume(v, source=GoalSource.PHONATION_VOLUME, on=DAY) for v in (less, more)]
    assert goals[0].seconds <= goals[1].seconds
    assert all(goal.stage_s <= goal.seconds for goal in goals)


def test_best_is_the_longest_of_the_last_fourteen_days():
    holds = [
        (DAY - timedelta(days=14), 20.0),  # The fifteenth day before.
        (DAY - timedelta(days=13), 15.0),
        (DAY, 13.0),
        (DAY + timedelta(days=1), 30.0),
    ]
    assert best_hold_s(holds, on=DAY) == 15.0
    assert best_hold_s([], on=DAY) is None


@pytest.mark.parametrize(
    ("best", "goal", "today"),
    [
        (14.8, 40, 16.0),
        (14.5, 40, 14.0),
        (4.1, 40, 4.5),
        (10.0, 9.0, 9.0),
        (0.3, 40, 0.5),
        (50, 45, 45.0),
    ],
)
def test_today_is_the_rung_at_or_under_best_and_a_tenth(best, goal, today):
    assert todays_target_s(best_s=best, goal_s=goal) == today


def test_the_ladder_of_holds_is_the_one_that_was_agreed():
    assert HOLD_RUNGS_S[:10] == (0.5, 1.0, 1.5, 2.0, 2.5, 3.0, 3.5, 4.0, 4.5, 5.0)
    assert HOLD_RUNGS_S[9:] == (5, 6, 7, 8, 9, 10, 12, 14, 16, 18, 20, 23, 26, 30, 35, 40, 45)
    assert HISS_RUNGS_S == (10, 15, 20, 25, 30, 35, 40, 45, 50, 55, 60)


def test_the_next_rung_up_and_down():
    assert (rung_below_s(12.0), rung_above_s(12.0)) == (10.0, 14.0)
    assert rung_above_s(45.0) is None
    assert rung_below_s(0.5) is None
    with pytest.raises(ValueOutOfRange):
        rung_at_or_under_s(0.0)


@given(st.floats(0.5, 45), st.floats(0.5, 45))
def test_personal_rungs_climb_to_the_goal_in_half_seconds(best, goal):
    rungs = personal_rungs_s(best_s=best, goal_s=goal)
    assert list(rungs) == sorted(set(rungs))
    assert rungs[0] <= max(best, 0.5)
    assert rungs[-1] == (goal if goal > rungs[0] else rungs[0])
    for low, high in pairwise(rungs):
        assert high <= max(low * 1.1 + 0.25, low + 0.5) + 1e-9


def test_a_range_knows_its_span_and_its_notes():
    octave = PitchRange(110.0, 220.0)
    assert octave.span_st == pytest.approx(12.0)
    assert octave.includes(Note.named("A2"))
    assert octave.includes(Note.named("A3"))
    assert not octave.includes(Note.named("B3"))
    assert octave.contains(PitchRange(120.0, 200.0))
    assert not PitchRange(120.0, 200.0).contains(octave)
    assert octave.union(PitchRange(100.0, 150.0)) == PitchRange(100.0, 220.0)


def test_a_lowest_note_above_the_highest_is_refused():
    with pytest.raises(ValueOutOfRange):
        PitchRange(220.0, 110.0)
    with pytest.raises(PitchOutOfRange):
        PitchRange(20.0, 110.0)


def test_a_habitual_pitch_under_the_easiest_is_negative():
    assert speaking_difference_st(habitual_hz=110.0, easiest_hz=123.47) == pytest.approx(
        -2.0, abs=0.01
    )


@given(st.floats(60, 1200), st.floats(60, 1200))
def test_the_difference_turns_its_sign_round(one, other):
    there = speaking_difference_st(habitual_hz=one, easiest_hz=other)
    back = speaking_difference_st(habitual_hz=other, easiest_hz=one)
    assert there == pytest.approx(-back, abs=1e-9)


ROWS = (
    ReferenceRow("longest_vowel_s", None, None, 10.0, None),
    ReferenceRow("longest_vowel_s", "75+", None, 8.0, None),
    ReferenceRow("longest_vowel_s", None, "treble", 11.0, 30.0),
)


@pytest.mark.parametrize(
    ("age_band", "voice", "low"),
    [("75+", "treble", 8.0), ("18-39", "treble", 11.0), (None, "bass", 10.0)],
)
def test_the_closest_row_speaks_and_age_before_voice(age_band, voice, low):
    row = reference_for(ROWS, measure="longest_vowel_s", age_band=age_band, voice=voice)
    assert row.low == low


def test_the_place_of_a_figure_in_its_reference_range():
    assert against_reference(9.9, ROWS[0]) is AgainstReference.UNDER
    assert against_reference(10.0, ROWS[0]) is AgainstReference.WITHIN
    assert against_reference(31.0, ROWS[2]) is AgainstReference.OVER
    assert reference_for(ROWS, measure="span_st", age_band=None, voice=None) is None


@pytest.mark.parametrize(
    ("measure", "value", "found"),
    [
        ("hold_s", -3.0, Plausibility.IMPOSSIBLE),
        ("hold_s", 400.0, Plausibility.IMPOSSIBLE),
        ("hold_s", 61.0, Plausibility.ODD),
        ("hold_s", 14.0, Plausibility.USUAL),
        ("volume_ml", 12.0, Plausibility.IMPOSSIBLE),
        ("volume_ml", 700.0, Plausibility.ODD),
        ("pitch_hz", float("nan"), Plausibility.IMPOSSIBLE),
        ("pitch_hz", 60.0, Plausibility.ODD),
    ],
)
def test_typed_figures_are_usual_odd_or_impossible(measure, value, found):
    assert plausibility(measure, value) is found


def test_an_unknown_measure_is_a_mistake_of_the_program():
    with pytest.raises(ValueOutOfRange):
        plausibility("shoe_size", 42)
