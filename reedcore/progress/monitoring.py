"""Watching for a decline: a look every day, and few false alarms.

The mean of the last seven days' longest holds is held against the usual, and has to stay under it:
seen once, then again at least three practised days later. What was usual when it began stays the
measure while it lasts, for the low weeks would become usual themselves (MEASURES §5.10).
"""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from math import sqrt
from statistics import fmean, median

from .trend import FIRM_DAYS, USUAL_DAYS_SHARE

#: The usual is the median of so many weekly means before the last seven days.
WEEKS_BEFORE = 4
#: Fewer practised days before, and nobody knows what is usual.
LEAST_BEFORE = 6
#: Seen again so many practised days later.
APART = 3
#: How many standard errors the week lies under the usual: a look every day gives chance many tries.
QUANTILE = 2.2


@dataclass(frozen=True, slots=True)
class Decline:
    """A decline that lasts up to the last practised day.

    Attributes:
        days: the practised days on which it was seen, oldest first.
        usual: what was usual when it began.
        now: the mean of the last seven days.
    """

    days: tuple[date, ...]
    usual: float
    now: float

    def confirmed(self, *, after: date | None = None) -> bool:
        """Seen twice, at least three practised days apart, all of it after that day."""
        seen = [day for day in self.days if after is None or day > after]
        return len(seen) > APART


@dataclass(frozen=True, slots=True)
class _Usual:
    value: float
    spread: float
    days: int

    def is_under(self, week: list[float], share: float) -> bool:
        fall = self.value - fmean(week)
        limit = QUANTILE * self.spread * sqrt(1 / len(week) + 1 / self.days)
        return fall >= share * self.value and fall > limit


def decline_of(
    longest: Mapping[date, float], *, today: date, share: float, least_days: int
) -> Decline | None:
    """The decline that stands today; None where there is none, or nobody can say.

    Args:
        longest: each practised day's longest hold, s.
        share: of the usual, that the mean of the week has to lie under it.
        least_days: practised days of the last seven.
    """
    kept = _Kept(sorted((day, value) for day, value in longest.items() if day <= today))
    days = kept.days
    usual: _Usual | None = None
    seen: list[date] = []
    week: list[float] = []
    for day in days:
        week = kept.week_to(day)
        if len(week) < least_days:
            continue
        reference = usual or _usual_before(kept, day, least_days)
        if reference is not None and reference.is_under(week, share):
            usual = reference
            seen.append(day)
        else:
            usual, seen = None, []
    if usual is None or (today - days[-1]).days >= 7:
        return None
    return Decline(tuple(seen), usual.value, fmean(week))


class _Kept:
    """The longest holds by day, so that a week of them is found without asking every day."""

    def __init__(self, longest: Sequence[tuple[date, float]]) -> None:
        self.days = [day for day, _ in longest]
        self._values = [value for _, value in longest]
        self._ordinals = [day.toordinal() for day in self.days]

    def week_to(self, day: date, *, weeks_back: int = 0) -> list[float]:
        """The values of the seven days up to one, or of seven so many weeks before them."""
        last = day.toordinal() - 7 * weeks_back
        first = bisect_left(self._ordinals, last - 6)
        return self._values[first : bisect_right(self._ordinals, last)]


def _usual_before(kept: _Kept, day: date, least_days: int) -> _Usual | None:
    weeks = [kept.week_to(day, weeks_back=back) for back in range(1, WEEKS_BEFORE + 1)]
    every = [value for week in weeks for value in week]
    means = [fmean(week) for week in weeks if len(week) >= least_days]
    if len(every) < LEAST_BEFORE or not means:
        return None
    usual = median(means)
    mean = fmean(every)
    # plainly: the library's own is exact to the last bit and takes twenty times as long
    spread = sqrt(sum((value - mean) ** 2 for value in every) / (len(every) - 1))
    if len(means) < FIRM_DAYS:  # a few days are no measure of how days differ
        spread = max(spread, USUAL_DAYS_SHARE * usual)
    return _Usual(usual, spread, len(every))
