"""Selects test cases for the short run; ``make test-long`` runs all of them."""

import pytest


def short(cases, *, takes):
    """Return the cases as parameters; those left out of the short run are marked ``long``.

    Args:
        cases: one parameter each; a tuple is several.
        takes: a case in, whether the short run takes it out.
    """
    marked = []
    for case in cases:
        values = case if isinstance(case, tuple) else (case,)
        marks = () if takes(case) else (pytest.mark.long,)
        marked.append(pytest.param(*values, marks=marks))
    return marked


def every(step):
    """Return a rule that selects the first case and each ``step``-th after it."""
    count = iter(range(1_000_000))
    return lambda _: next(count) % step == 0


def first_of_each(kind):
    """Return a rule that selects the first case of each kind."""
    seen = set()

    def takes(case):
        is_new = kind(case) not in seen
        seen.add(kind(case))
        return is_new

    return takes
