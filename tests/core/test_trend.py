"""Trends, real change and adherence, compared with scipy and with calculations by hand."""

from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import theilslopes

from reedcore.dose.adherence import Outcome, SlotAdherence, adherence, dose_received
from reedcore.progress import Point, baseline_of, change_of, trend

START = date(2026, 9, 1)


def series(values, step=3):
    return [Point(START + timedelta(days=step * at), value) for at, value in enumerate(values)]


def test_a_trend_is_the_theil_sen_line():
    rng = np.random.default_rng(4)
    values = 8 + 0.1 * np.arange(0, 60, 3) + rng.normal(0, 0.6, 20)
    found = trend(series(values))
    expected = theilslopes(values, 3 * np.arange(20), alpha=0.95)
    assert (found.per_day, found.low, found.high) == pytest.approx(expected[0:1] + expected[2:4])
    assert found.rises
    assert not found.falls


def test_one_mad_day_does_not_turn_it():
    values = [8.0 + 0.2 * at for at in range(10)]
    values[4] = 60.0
    assert trend(series(values)).per_day == pytest.approx(0.2 / 3, rel=0.05)


@pytest.mark.parametrize(("count", "step"), [(5, 7), (6, 2)])
def test_too_few_points_or_days_are_no_trend(count, step):
    assert trend(series([10.0] * count, step)) is None


def test_six_points_over_a_fortnight_are():
    found = trend(series([10.0] * 6, 3))
    assert found.per_day == 0
    assert not found.rises
    assert not found.falls


def test_the_worked_limit_of_change():
    baseline = baseline_of([[14.2, 15.8, 17.1]])
    assert baseline.within == pytest.approx(1.45, abs=0.01)
    assert baseline.between == pytest.approx(1.57, abs=0.01)
    assert baseline.limit(days=5, trials=3) == pytest.approx(3.8, abs=0.05)
    assert baseline.is_provisional
    week = [[19.4, 19.5, 19.6]] * 5
    assert not change_of(baseline, week).is_real
    assert change_of(baseline, [[19.6, 19.6, 19.6]] * 5).is_real


def test_from_three_days_on_their_own_spread_counts():
    days = [[10.0, 11.0, 12.0], [12.0, 13.0, 14.0], [11.0, 12.0, 13.0]]
    baseline = baseline_of(days)
    assert (baseline.mean, baseline.within) == (pytest.approx(12.0), pytest.approx(1.0))
    # Variance of the day means 1.0, less 1/3 explained by the trials; t with two degrees is 4.303.
    assert baseline.between == pytest.approx(0.8165, abs=1e-3)
    error = (0.6667 / 3 + 1 / 9 + 0.6667 / 4 + 1 / 8) ** 0.5
    # Days are correlated: wider by √(1.3 / 0.7), and three of them spread too little by 0.6 / 0.7 /
    # 3.
    wider = (1.3 / 0.7 / (1 - 0.6 / 0.7 / 3)) ** 0.5
    assert baseline.limit(days=4, trials=2) == pytest.approx(4.303 * wider * error, abs=0.01)
    # With two degrees of freedom, one in forty exceeds 6.080.
    assert baseline.limit(days=4, trials=2, is_monitored=True) == pytest.approx(
        6.080 * wider * error, abs=0.01
    )
    assert not baseline.is_provisional


def test_two_stretches_of_days_are_held_against_each_other():
    baseline = baseline_of([[10.0, 10.5], [10.2, 10.4], [9.9, 10.1]])
    found = change_of(baseline, [[13.0, 13.2]] * 4, since=[[12.0, 12.1]] * 4)
    assert found.by == pytest.approx(1.05)


def test_a_very_even_baseline_still_leaves_five_percent():
    even = baseline_of([[20.0, 20.0]] * 3)
    assert even.limit(days=5, trials=2) == pytest.approx(1.0)


@pytest.mark.parametrize("days", [[], [[12.0]], [[12.0], [13.0]]])
def test_a_spread_needs_a_repetition_or_three_days(days):
    assert baseline_of(days) is None
    assert baseline_of([[12.0], [13.0], [12.5]]) is not None


def adherence_of(letters):
    of = {"d": Outcome.DONE, "s": Outcome.SHORT, "m": Outcome.MISSED, "e": Outcome.EXCUSED}
    return [SlotAdherence(of[letter]) for letter in letters]


@pytest.mark.parametrize(
    ("slots", "share"),
    [
        (adherence_of("dddd"), 1.0),
        (adherence_of("ddmm"), 0.5),
        (adherence_of("dsme"), 2 / 3),
        ([*adherence_of("dm"), SlotAdherence(Outcome.PARTIAL, 0.5)], 0.5),
        ([SlotAdherence(Outcome.PARTIAL, 1.7)], 1.0),
        (adherence_of("ee"), None),
        ([], None),
    ],
)
def test_adherence_by_hand(slots, share):
    assert adherence(slots) == (None if share is None else pytest.approx(share))


def test_dose_received_counts_no_more_than_was_asked():
    assert dose_received([(12.0, 10.0), (6.0, 10.0)], prescribed_s=40.0) == pytest.approx(0.4)
    assert dose_received([], prescribed_s=0.0) is None


@given(st.lists(st.sampled_from("dsme"), max_size=40))
def test_adherence_is_a_share(letters):
    share = adherence(adherence_of(letters))
    assert share is None or 0.0 <= share <= 1.0
