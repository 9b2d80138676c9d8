"""Days hang together: a voice that is tired today is rather tired tomorrow (MEASURES §5.10)."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise
from math import sqrt

#: Default correlation between practised days (convention).
USUAL_AUTOCORRELATION = 0.3
#: Practised days after which the client's own correlation is used.
OWN_FROM_DAYS = 20
#: Weight of the default, in days of the client's own data.
USUAL_WEIGHS_DAYS = 22
#: Beyond this a series is a trend, not spread between days.
MOST = 0.6


def autocorrelation(values: Sequence[float]) -> float:
    """Return how much one practised day says of the next, 0 to 0.6.

    Args:
        values: one for each practised day, oldest first.

    Returns:
        The usual until twenty days are known; then the client's own, drawn towards the usual. A
        short series looks less alike than it is, by about (1 + 3ρ) / n, which is made up for
        (Biometrika 1954;41:403–404).
    """
    count = len(values)
    if count < OWN_FROM_DAYS:
        return USUAL_AUTOCORRELATION
    mean = sum(values) / count
    apart = [value - mean for value in values]
    spread = sum(each * each for each in apart)
    if spread <= 0.0:
        return USUAL_AUTOCORRELATION
    own = sum(one * next_ for one, next_ in pairwise(apart)) / spread
    own += (1.0 + 3.0 * own) / count
    weight = count / (count + USUAL_WEIGHS_DAYS)
    drawn = weight * own + (1.0 - weight) * USUAL_AUTOCORRELATION
    return min(max(drawn, 0.0), MOST)


def variance_inflation(
    autocorrelation: float = USUAL_AUTOCORRELATION, *, days: int | None = None
) -> float:
    """Return the factor by which correlated days raise the standard error of a mean over
    them, compared with independent days.

    Args:
        days: from how many of them their spread was measured; a few days that hang together spread
            less among themselves than days do. None where it is known otherwise.
    """
    wider = (1.0 + autocorrelation) / (1.0 - autocorrelation)
    if days is None:
        return sqrt(wider)
    short = 2.0 * autocorrelation / (1.0 - autocorrelation) / days
    return sqrt(wider / (1.0 - short))
