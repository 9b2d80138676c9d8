"""The rules meet the bars of MEASURES §5.10 for simulated people, from fixed seeds: a few here, two
thousand per row in `make bench-clinical`."""

from math import sqrt

import pytest

from bench.clinical.rows import ROWS, mean_of

COURSES = 40
#: Share of courses that may exceed the bar by chance; more than this many standard errors fails.
ERRORS = 2.5


def slack(row):
    """Return the tolerance for chance in the mean of so few courses."""
    bar = row.most if row.most is not None else row.least
    spread = sqrt(bar * (1 - bar)) if bar < 1 else sqrt(bar)
    return ERRORS * spread / sqrt(COURSES)


@pytest.mark.parametrize("row", ROWS, ids=[row.name for row in ROWS])
def test_a_bar_is_kept(row):
    value = mean_of(row, range(COURSES))
    if row.most is not None:
        assert value <= row.most + slack(row)
    else:
        assert value >= row.least - slack(row)


def test_every_row_has_one_bar_and_a_worse_one_is_noticed():
    assert len(ROWS) >= 20
    for row in ROWS:
        assert (row.most is None) != (row.least is None)
        worse = row.most + 0.01 if row.most is not None else row.least - 0.01
        assert not row.keeps(worse)
