"""Trends, real change and adherence, against scipy and against hand calculations."""

from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import theilslopes

from reedcore.dose.adherence import Kept, Outcome, adherence, dose_received
from reedcore.progress import Point, change_limit, trend

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
    limit = change_limit([[14.2, 15.8, 17.1]])
    assert limit.spread == pytest.approx(1.45, abs=0.01)
    assert limit.limit == pytest.approx(4.0, abs=0.05)
    assert limit.provisional
    assert not limit.is_real(19.5)
    assert limit.is_real(19.8)


def test_the_spread_is_pooled_within_occasions_not_between_them():
    limit = change_limit([[10.0, 11.0, 12.0], [20.0, 21.0, 22.0]])
    assert limit.spread == pytest.approx(1.0)
    assert limit.mean == pytest.approx(16.0)
    assert not limit.provisional


def test_a_very_even_baseline_still_leaves_five_percent():
    assert change_limit([[20.0, 20.0, 20.0]]).limit == pytest.approx(1.0)


@pytest.mark.parametrize("occasions", [[], [[12.0]], [[12.0], [13.0]]])
def test_a_spread_needs_a_repetition(occasions):
    assert change_limit(occasions) is None


def kept(letters):
    of = {"d": Outcome.DONE, "s": Outcome.SHORT, "m": Outcome.MISSED, "e": Outcome.EXCUSED}
    return [Kept(of[letter]) for letter in letters]


@pytest.mark.parametrize(
    ("slots", "share"),
    [
        (kept("dddd"), 1.0),
        (kept("ddmm"), 0.5),
        (kept("dsme"), 2 / 3),
        ([*kept("dm"), Kept(Outcome.PARTIAL, 0.5)], 0.5),
        ([Kept(Outcome.PARTIAL, 1.7)], 1.0),
        (kept("ee"), None),
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
    share = adherence(kept(letters))
    assert share is None or 0.0 <= share <= 1.0
