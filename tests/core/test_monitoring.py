"""Daily monitoring raises few alarms and finds a true decline: by simulation, at the reference's
bars."""

from datetime import date, timedelta

import numpy as np
import pytest

from reedcore.progress import first_confirmed

MONDAY = date(2026, 1, 5)
PRACTISED = 5  # Days per week.
FALL = 0.75


def first_alarm(rng, spread, *, weeks=8, falls_on=None):
    """Return the day of a course on which a decline is first confirmed; None if it never is."""
    longest = {}
    for back in range(7 * weeks):
        if back % 7 >= PRACTISED:
            continue
        true = 10.0 * (FALL if falls_on is not None and back >= falls_on else 1.0)
        longest[MONDAY + timedelta(days=back)] = rng.normal(true, 10.0 * spread)
    found = first_confirmed(longest, share=0.15, least_days=3)
    return (found - MONDAY).days if found else None


@pytest.mark.parametrize(("spread", "most"), [(0.10, 0.02), (0.15, 0.05)])
def test_a_stable_client_is_rarely_flagged_in_eight_weeks(spread, most):
    rng = np.random.default_rng(11)
    courses = 1000
    flagged = sum(first_alarm(rng, spread) is not None for _ in range(courses))
    assert flagged / courses <= most


@pytest.mark.parametrize(("spread", "least"), [(0.10, 0.95), (0.15, 0.80)])
def test_a_fall_of_a_quarter_is_found_within_a_fortnight(spread, least):
    rng = np.random.default_rng(12)
    courses, found = 2000, 0
    for _ in range(courses):
        falls_on = 28 + int(rng.integers(0, 7))
        alarm = first_alarm(rng, spread, weeks=7, falls_on=falls_on)
        found += alarm is not None and falls_on <= alarm <= falls_on + 14
    assert found / courses >= least
