"""The course of a figure: baseline, best, last week, and more-than-chance changes."""

from datetime import date, timedelta
from statistics import median

import pytest
from scipy.stats import theilslopes

from reedcore.progress import (
    BetterDirection,
    MeasuredValue,
    baseline_days,
    course_of,
    session_points,
)

TODAY = date(2026, 11, 25)


def trials(*sessions):
    """Return trials from (days ago, values) of each session, oldest first."""
    return [
        MeasuredValue(TODAY - timedelta(days=days_ago), f"s{place}", value)
        for place, (days_ago, values) in enumerate(sessions)
        for value in values
    ]


#: A first week, which is no baseline, and five days of the following fortnight.
SETTLING = ((40, (9.0, 9.5)), (38, (10.0, 11.0)))
EARLY = (
    *SETTLING,
    (33, (14.2, 15.8, 17.1)),
    (31, (15.0, 16.0)),
    (29, (15.5, 16.5)),
    (27, (14.0, 15.0)),
    (25, (16.0, 17.0)),
)


def test_the_change_is_held_against_the_fortnight_after_the_first_week():
    found = course_of(
        trials(*EARLY, (10, (30.0,)), (2, (24.0, 23.0)), (1, (25.0,))),
        today=TODAY, better=BetterDirection.HIGHER,
    )  # fmt: skip
    # Calculated by hand from the means of the days: 15.7, 15.5, 16.0, 14.5, 16.5.
    assert found.first_mean == pytest.approx(15.64)
    assert found.week_mean == pytest.approx((23.5 + 25.0) / 2)
    assert found.change.by == found.planned.by == pytest.approx(24.25 - 15.64)
    assert found.change.is_real
    assert not found.change.is_provisional
    assert found.best == 30.0


def test_each_look_is_a_chance_and_a_report_is_one():
    found = course_of(trials(*EARLY, (1, (16.5, 16.2))), today=TODAY, better=BetterDirection.HIGHER)
    assert found.change.by == pytest.approx(0.71)
    assert found.change.is_real is False
    assert found.change.limit > found.planned.limit > 1.0


def test_nothing_has_changed_while_the_week_is_part_of_the_baseline():
    first = tuple((20 - n, (5.0 + n, 6.0 + n)) for n in range(19))
    found = course_of(trials(*first), today=TODAY, better=BetterDirection.HIGHER)
    assert found.week_mean == pytest.approx(21.5)
    assert found.change is None


def test_a_series_in_its_first_week_begins_with_what_there_is():
    found = course_of(
        trials((5, (9.0, 9.5)), (2, (10.0, 11.0))), today=TODAY, better=BetterDirection.HIGHER
    )
    assert found.first_mean == pytest.approx((9.25 + 10.5) / 2)
    assert found.change is None


def test_a_client_who_practises_rarely_still_has_five_baseline_days():
    days = [TODAY - timedelta(days=back) for back in (60, 57, 50, 43, 36, 29, 22, 15)]
    assert baseline_days(days) == days[2:7]


def test_two_sessions_of_a_day_are_one_day():
    found = course_of(
        trials((5, (9.0, 9.5)), (5, (9.2,)), (4, (9.1, 9.3)), (1, (9.2, 9.4))),
        today=TODAY, better=BetterDirection.HIGHER,
    )  # fmt: skip
    assert (found.baseline.days, found.sessions) == (3, 4)


def test_the_week_is_seven_days_with_today():
    found = course_of(
        trials(*EARLY, (7, (99.0,)), (6, (20.0,))), today=TODAY, better=BetterDirection.HIGHER
    )
    assert found.week_mean == 20.0


def test_one_trial_on_each_of_two_days_bears_a_mean_but_no_limit():
    found = course_of(trials((9, (4.0,)), (8, (5.0,))), today=TODAY, better=BetterDirection.LOWER)
    assert found.first_mean == 4.5
    assert (found.baseline, found.change) == (None, None)


@pytest.mark.parametrize(
    ("better", "best"), [("higher", 12.0), ("lower", -31.0), ("nearer to zero", 4.0)]
)
def test_best_is_what_is_better(better, best):
    made = trials((3, (-31.0, 12.0)), (2, (4.0, -8.0)))
    assert course_of(made, today=TODAY, better=BetterDirection(better)).best == best


def test_without_measurements_there_is_no_statement():
    found = course_of([], today=TODAY, better=BetterDirection.HIGHER)
    assert (found.first_mean, found.best, found.week_mean, found.trend) == (None, None, None, None)
    assert found.sessions == 0


def test_the_trend_runs_through_the_medians_as_scipy_has_it():
    sessions = [(40 - 3 * n, (8.0 + 0.1 * n, 8.6 + 0.12 * n, 11.0)) for n in range(12)]
    made = trials(*sessions)
    points = session_points(made)
    assert [point.value for point in points] == [median(values) for _, values in sessions]
    slope, _, low, high = theilslopes([p.value for p in points], [3 * n for n in range(12)], 0.95)
    found = course_of(made, today=TODAY, better=BetterDirection.HIGHER).trend
    assert (found.per_day, found.low, found.high) == pytest.approx((slope, low, high))
