"""Watching for a decline: a look every day, and few false alarms.

The mean of the last seven days' longest holds is held against the usual: the 28 days before, or,
where that was more, the client's best 28 days so far, so that a slow decline does not become usual
itself. It is seen where the week lies under that by more than chance, and confirmed where it is
still seen five practised days later, or three where it is far more than chance. Who practises too
seldom for a week is looked at by the last four practised days against the eight before.

The limits are set by simulation (docs/methods/decisions.md).
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from math import log2, sqrt
from statistics import fmean

from .day_to_day import autocorrelation, variance_inflation
from .trend import USUAL_DAYS_SHARE

WEEK, USUAL_DAYS, SPREAD_DAYS = 7, 28, 63
#: Minimum earlier practised days for a usual level; one fewer for clients who practise rarely.
LEAST_BEFORE, LEAST_BEFORE_SELDOM = 6, 5
#: For clients who practise rarely: days to compare, days before, and the period.
LAST_DAYS, DAYS_BEFORE, SELDOM_WITHIN = 4, 8, 21
#: Confirm after this many further practised days; sooner for a fall far beyond chance, and at once
#: for rare practice.
APART, APART_FAR, APART_SELDOM = 5, 3, 0
#: Thresholds in standard errors: seen; seen at once; and the surplus for the best 28 days, which
#: are partly best by chance.
SEEN, FAR, AGAINST_BEST = 1.95, 3.3, 0.3
#: Daily checks give chance many opportunities: raise the threshold with each doubling of eight
#: weeks.
EACH_DOUBLING, FIRST_WEEKS = 0.5, 8
#: Weight of the default spread (a tenth of the mean), in days of the client's own data.
SPREAD_WEIGHS_DAYS = 18


@dataclass(frozen=True, slots=True)
class Decline:
    """A decline that lasts up to the last practised day.

    Attributes:
        days: the practised days on which it was seen, oldest first.
        usual: what was usual when it began, s.
        now: the mean of the last seven days, s; of the last four practised ones where fewer were.
        far: days of these on which the fall was far beyond chance.
        is_seldom: it was looked at by practised days.
    """

    days: tuple[date, ...]
    usual: float
    now: float
    far: frozenset[date] = frozenset()
    is_seldom: bool = False

    def is_confirmed(self, *, after: date | None = None) -> bool:
        """Return whether it was seen twice, long enough apart, both after this day."""
        seen = [day for day in self.days if after is None or day > after]
        if not seen:
            return False
        soon = APART_SELDOM if self.is_seldom else APART_FAR
        return len(seen) > (soon if seen[-1] in self.far else APART)


@dataclass(frozen=True, slots=True)
class DeclineEvidence:
    """The last week compared with the usual, and whether it is a decline.

    Attributes:
        fall: of the usual, 0 to 1; under 0 where it is more.
        limit: what would be more than chance, of the usual.
    """

    fall: float
    limit: float

    @property
    def half_way(self) -> bool:
        """Return whether it is below the usual by half of a more-than-chance fall: enough to block
        an advance."""
        return self.fall > 0.5 * self.limit


@dataclass(frozen=True, slots=True)
class _Usual:
    value: float
    error_of_day: float
    days: int
    quantile: float

    def error(self, count: int) -> float:
        """Return the standard error of the difference to a mean over this many days."""
        return self.error_of_day * sqrt(1 / count + 1 / self.days)


def decline_of(
    longest: Mapping[date, float],
    *,
    today: date,
    share: float,
    least_days: int,
    at_least: Collection[date] = (),
) -> Decline | None:
    """Return the current decline; None if there is none, or too little is known.

    Args:
        longest: each practised day's longest hold, s.
        share: of the usual, that the mean of the week has to lie under it.
        least_days: practised days of the last seven.
        at_least: days on which less was asked than before and the client stopped there: the hold
            could have been longer, and says nothing of a decline.
    """
    every = list(_declines(_list_looks(longest, today, least_days, at_least), share))
    return every[-1][1] if every and _is_current(every[-1][0], today) else None


def first_confirmed(
    longest: Mapping[date, float],
    *,
    share: float,
    least_days: int,
    at_least: Collection[date] = (),
) -> date | None:
    """Return the first practised day on which a decline was confirmed; None if it never was.

    The same as asking `decline_of` on each day. Arguments as there.
    """
    if not longest:
        return None
    for look, found in _declines(_list_looks(longest, max(longest), least_days, at_least), share):
        if found is not None and found.is_confirmed():
            return look.day
    return None


def _declines(looks: Iterable[_Look], share: float) -> Iterator[tuple[_Look, Decline | None]]:
    """Return the decline found on each day. The usual value at the start of a decline stays the
    reference until it ends; otherwise the low weeks would become the usual value."""
    seen: list[date] = []
    far: set[date] = set()
    usual: _Usual | None = None
    for look in looks:
        reference = usual or look.usual
        now = look.mean(reference.value)
        fall, error = reference.value - now, reference.error(look.count)
        if fall < share * reference.value or fall <= reference.quantile * error:
            usual, seen, far = None, [], set()
            yield look, None
            continue
        usual = reference
        seen.append(look.day)
        if fall > FAR * error:
            far.add(look.day)
        yield look, Decline(tuple(seen), reference.value, now, frozenset(far), look.is_seldom)


def falling(
    longest: Mapping[date, float],
    *,
    today: date,
    least_days: int,
    at_least: Collection[date] = (),
) -> DeclineEvidence | None:
    """Return the last week compared with the usual; None if too little is known. Arguments as
    above."""
    looks = _list_looks(longest, today, least_days, at_least)
    if not looks or not _is_current(looks[-1], today):
        return None
    last, usual = looks[-1], looks[-1].usual
    fall = (usual.value - last.mean(usual.value)) / usual.value
    return DeclineEvidence(fall, usual.quantile * usual.error(last.count) / usual.value)


@dataclass(frozen=True, slots=True)
class _Look:
    """The window that ends on one practised day, and the usual level before it."""

    day: date
    values: tuple[float, ...]
    open_up: tuple[bool, ...]
    usual: _Usual
    is_seldom: bool

    @property
    def count(self) -> int:
        """Return the number of practised days."""
        return len(self.values)

    def mean(self, usual: float) -> float:
        """Return the mean, in which holds that could have been longer count as the usual."""
        pairs = zip(self.values, self.open_up, strict=True)
        return fmean(max(value, usual) if up else value for value, up in pairs)


def _is_current(look: _Look, today: date) -> bool:
    return (today - look.day).days < (SELDOM_WITHIN if look.is_seldom else WEEK)


def _list_looks(
    longest: Mapping[date, float], today: date, least_days: int, at_least: Collection[date]
) -> list[_Look]:
    kept = sorted((day, value) for day, value in longest.items() if day <= today)
    days, values = [day for day, _ in kept], [value for _, value in kept]
    ordinals = [day.toordinal() for day in days]
    found: list[_Look] = []
    best: tuple[float, int] | None = None
    for place, day in enumerate(days):
        end = place + 1
        first = bisect_left(ordinals, ordinals[place] - WEEK + 1)
        seldom = end - first < least_days
        if seldom:
            first = end - LAST_DAYS
            if first < 0 or ordinals[place] - ordinals[first] > SELDOM_WITHIN:
                continue
        since = bisect_left(ordinals, ordinals[first] - USUAL_DAYS)
        if seldom:
            since = max(0, first - DAYS_BEFORE)
        before = values[since:first]
        if len(before) < (LEAST_BEFORE_SELDOM if seldom else LEAST_BEFORE):
            continue
        reference = (fmean(before), len(before))
        if ordinals[first - 1] - ordinals[0] >= USUAL_DAYS - 1 and (
            best is None or reference[0] > best[0]
        ):
            best = reference
        spread_since = bisect_left(ordinals, ordinals[first] - SPREAD_DAYS)
        passed = ordinals[place] - ordinals[0]
        usual = _usual(reference, best, values[spread_since:first], passed)
        window = slice(first, end)
        found.append(
            _Look(
                day,
                tuple(values[window]),
                tuple(each in at_least for each in days[window]),
                usual,
                seldom,
            )
        )
    return found


def _usual(
    before: tuple[float, int],
    best: tuple[float, int] | None,
    spread_of: Sequence[float],
    passed: int,
) -> _Usual:
    mean, count = before
    quantile = SEEN + EACH_DOUBLING * max(0.0, log2(max(1.0, passed / (7.0 * FIRST_WEEKS))))
    error = _error_of_day(spread_of, mean)
    if best is not None and best[0] > mean:
        return _Usual(best[0], error, best[1], quantile + AGAINST_BEST)
    return _Usual(mean, error, count, quantile)


def _error_of_day(values: Sequence[float], usual: float) -> float:
    """Return the standard error of one day: the client's own combined with the usual, widened for
    correlated days."""
    mean = sum(values) / len(values)
    own = sum((value - mean) ** 2 for value in values)
    drawn = (SPREAD_WEIGHS_DAYS * (USUAL_DAYS_SHARE * usual) ** 2 + own) / (
        SPREAD_WEIGHS_DAYS + len(values) - 1
    )
    return sqrt(drawn) * variance_inflation(autocorrelation(values))
