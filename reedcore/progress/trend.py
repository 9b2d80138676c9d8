"""Whether a series rises, falls, or shows real change."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from functools import cache
from math import sqrt
from statistics import fmean, variance

from .day_to_day import variance_inflation

#: Minimum points and days for a trend (MEASURES §5.10).
LEAST_POINTS, LEAST_DAYS = 6, 14
#: Minimum size of a real change, as a share of the mean.
LEAST_SHARE = 0.05
#: With fewer baseline days the limit is provisional: the spread is then this share of the mean
#: (convention).
FIRM_DAYS, USUAL_DAYS_SHARE = 3, 0.10
#: One planned comparison in twenty exceeds the limit by chance; with weekly checks, one in forty,
#: so that eight checks together stay under one in ten.
CONFIDENCE, QUANTILE = 0.975, 1.96
CONFIDENCE_OF_LOOKS, QUANTILE_OF_LOOKS = 0.987, 2.23


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
        """Return whether the whole interval is above zero."""
        return self.low > 0.0

    @property
    def falls(self) -> bool:
        """Return whether the whole interval is below zero."""
        return self.high < 0.0


def trend(points: Sequence[Point]) -> Trend | None:
    """Return the trend of a series; None for fewer than six points or less than a fortnight."""
    if len(points) < LEAST_POINTS:
        return None
    first = min(point.on for point in points)
    days = [(point.on - first).days for point in points]
    if max(days) < LEAST_DAYS:
        return None
    # Import late: scipy.stats takes half a second, and most processes need no trend.
    from scipy.stats import theilslopes

    found = theilslopes([point.value for point in points], days, alpha=0.95)
    return Trend(
        float(found.slope), float(found.low_slope), float(found.high_slope), float(found.intercept)
    )


@cache
def _quantile(freedom: int, confidence: float) -> float:
    from scipy.special import stdtrit

    return float(stdtrit(freedom, confidence))


@dataclass(frozen=True, slots=True)
class TrendBaseline:
    """The baseline that later means are compared with (MEASURES §5.10).

    Attributes:
        mean: of the days' means.
        within: pooled SD (n−1) of the trials of one day.
        between: SD of the days beyond what ``within`` explains; a tenth of the mean where there
            are too few days to measure it.
        days, trials: how many, and trials a day on average.
        is_provisional: it rests on fewer than three days.
    """

    mean: float
    within: float
    between: float
    days: int
    trials: float
    is_provisional: bool

    def limit(self, *, days: int, trials: float, is_monitored: bool = False) -> float:
        """Return the smallest difference of a mean of ``days``, each of ``trials``, beyond chance.

        Args:
            looks: it is looked at again and again, and each look is a chance; otherwise it is one
                planned comparison.
        """
        return self.limit_between(
            (self.days, self.trials), (days, trials), is_monitored=is_monitored
        )

    def limit_between(
        self, one: tuple[float, float], other: tuple[float, float], *, is_monitored: bool = False
    ) -> float:
        """Return the same for any two means: (days, trials a day) of each, spread as these days
        are."""
        error = sqrt(self._variance(*one) + self._variance(*other))
        if self.is_provisional:
            # The conventional spread is between days.
            return max(
                (QUANTILE_OF_LOOKS if is_monitored else QUANTILE) * error,
                LEAST_SHARE * abs(self.mean),
            )
        # The spread of a few days is an estimate, and days are correlated.
        quantile = _quantile(self.days - 1, CONFIDENCE_OF_LOOKS if is_monitored else CONFIDENCE)
        return max(
            quantile * variance_inflation(days=self.days) * error, LEAST_SHARE * abs(self.mean)
        )

    def _variance(self, days: float, trials: float) -> float:
        return self.between**2 / days + self.within**2 / (days * trials)


@dataclass(frozen=True, slots=True)
class MeanChange:
    """A change of a mean: its size, the ``limit``, and whether it is more than chance; provisional
    like its baseline."""

    by: float
    limit: float
    is_provisional: bool

    @property
    def is_real(self) -> bool:
        """Return whether it exceeds the limit."""
        return abs(self.by) > self.limit


def baseline_of(days: Sequence[Sequence[float]]) -> TrendBaseline | None:
    """Return the baseline from the trials of the first days; None if none was measured twice."""
    kept = [tuple(values) for values in days if values]
    repeated = [values for values in kept if len(values) > 1]
    means = [fmean(values) for values in kept]
    if not repeated and len(kept) < FIRM_DAYS:
        return None
    freedom = sum(len(values) - 1 for values in repeated)
    pooled = sum(variance(values) * (len(values) - 1) for values in repeated)
    within = sqrt(pooled / freedom) if freedom else 0.0
    trials = sum(map(len, kept)) / len(kept)
    mean, firm = fmean(means), len(kept) >= FIRM_DAYS
    between = sqrt(max(0.0, variance(means) - within**2 / trials)) if firm else 0.0
    if not firm:
        between = USUAL_DAYS_SHARE * abs(mean)
    return TrendBaseline(mean, within, between, len(kept), trials, is_provisional=not firm)


def change_of(
    baseline: TrendBaseline,
    days: Sequence[Sequence[float]],
    since: Sequence[Sequence[float]] | None = None,
    *,
    is_monitored: bool = False,
) -> MeanChange | None:
    """Return the change of later days' trials from the baseline or from other days; None without
    any.

    Args:
        looks: as `Baseline.limit`.
    """
    now, then = _summarise_days(days), _summarise_days(since) if since is not None else None
    if now is None or (since is not None and then is None):
        return None
    mean, *before = then or (baseline.mean, baseline.days, baseline.trials)
    limit = baseline.limit_between((before[0], before[1]), now[1:], is_monitored=is_monitored)
    return MeanChange(now[0] - mean, limit, baseline.is_provisional)


def _summarise_days(days: Sequence[Sequence[float]]) -> tuple[float, int, float] | None:
    """Return the mean of the day means, the number of days, and trials per day."""
    kept = [values for values in days if values]
    if not kept:
        return None
    return fmean(fmean(values) for values in kept), len(kept), sum(map(len, kept)) / len(kept)
