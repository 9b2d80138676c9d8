"""Whether a series rises, falls, or has really changed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from math import sqrt
from statistics import fmean, variance

from scipy.stats import theilslopes

#: A trend is not drawn from fewer points, or over fewer days (MEASURES §5.10).
LEAST_POINTS, LEAST_DAYS = 6, 14
#: Real change is never taken to be less than this share of the mean.
LEAST_SHARE = 0.05
#: Fewer baseline trials, or on fewer days, make the limit provisional.
FIRM_TRIALS, FIRM_DAYS = 6, 2
#: Two measurements differ by more than this many standard deviations one time in twenty.
_TWO_OF_THEM = 1.96 * sqrt(2.0)


@dataclass(frozen=True, slots=True)
class Point:
    """One session: the median of its trials."""

    on: date
    value: float


@dataclass(frozen=True, slots=True)
class Trend:
    """A Theil–Sen line (J Am Stat Assoc 1968;63:1379–1389).

    Attributes:
        per_day: its slope, in the unit of the points a day.
        low, high: the 95 % interval of the slope.
        intercept: the line's value on the first day.
    """

    per_day: float
    low: float
    high: float
    intercept: float

    @property
    def rises(self) -> bool:
        """The whole interval lies above zero."""
        return self.low > 0.0

    @property
    def falls(self) -> bool:
        """The whole interval lies below zero."""
        return self.high < 0.0


def trend(points: Sequence[Point]) -> Trend | None:
    """The trend of a series; None under six points or a fortnight."""
    if len(points) < LEAST_POINTS:
        return None
    first = min(point.on for point in points)
    days = [(point.on - first).days for point in points]
    if max(days) < LEAST_DAYS:
        return None
    found = theilslopes([point.value for point in points], days, alpha=0.95)
    return Trend(
        float(found.slope), float(found.low_slope), float(found.high_slope), float(found.intercept)
    )


@dataclass(frozen=True, slots=True)
class ChangeLimit:
    """How far a mean must lie from the baseline's before it is more than chance.

    Attributes:
        mean: of the baseline trials.
        spread: pooled SD (n−1) within occasions.
        limit: the least difference that counts.
        provisional: it rests on too few trials or days to be firm.
    """

    mean: float
    spread: float
    limit: float
    provisional: bool

    def is_real(self, recent_mean: float) -> bool:
        """Whether a later mean differs by more than the limit."""
        return abs(recent_mean - self.mean) > self.limit


def change_limit(occasions: Sequence[Sequence[float]]) -> ChangeLimit | None:
    """The limit from the baseline's trials, occasion by occasion; None where it cannot be said.

    The spread is never divided by the root of their number: what is compared later is again a few
    trials of one person.
    """
    kept = [tuple(values) for values in occasions if values]
    repeated = [values for values in kept if len(values) > 1]
    if not repeated:
        return None
    freedom = sum(len(values) - 1 for values in repeated)
    pooled = sqrt(sum(variance(values) * (len(values) - 1) for values in repeated) / freedom)
    every = [value for values in kept for value in values]
    mean = fmean(every)
    limit = max(_TWO_OF_THEM * pooled, LEAST_SHARE * mean)
    firm = len(every) >= FIRM_TRIALS and len(kept) >= FIRM_DAYS
    return ChangeLimit(mean, pooled, limit, provisional=not firm)
