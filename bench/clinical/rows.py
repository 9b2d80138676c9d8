"""The rows of MEASURES §5.10: their bars, and how one course is counted."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from random import Random
from statistics import fmean

from reedcore.ladders import rung_at_or_under_s

from .courses import decline_seen, random_ability, simulate_changes, targets_taken
from .people import Ability, Person

ONSET, WITHIN_DAYS = 42, 28
TEN_PRACTISED = 14


@dataclass(frozen=True)
class Row:
    """One bar.

    Attributes:
        course: what one course comes to, by its number: 1 or 0, or how many.
        most, least: the bar for the mean over the courses.
    """

    name: str
    course: Callable[[int], float]
    most: float | None = None
    least: float | None = None

    def keeps(self, value: float) -> bool:
        """Return whether a mean meets the bar."""
        return (self.most is None or value <= self.most) and (
            self.least is None or value >= self.least
        )


def steady(day: int) -> float:
    """Return a client who does not change."""
    return 10.0


def falls(share: float, *, over: int = 1) -> Ability:
    """Return a fall by this share over this many days from the onset."""
    return lambda day: 10.0 * (1.0 - share * min(1.0, max(0.0, (day - ONSET) / over)))


def grows(a_week: float) -> Ability:
    """Return growth by this share a week; negative for a loss."""
    return lambda day: 10.0 * (1.0 + a_week) ** (day / 7.0)


def low_at_first(day: int) -> float:
    """Return a start 15 % low for lack of practice, which improves each day for two weeks."""
    return 10.0 * (1.0 - 0.15 * max(0.0, 1.0 - day / 14.0))


def _any(number: int) -> Random:
    return Random(number)  # noqa: S311 – made-up people, no secret


def _share_flagged(
    able: Ability, spread: float, weeks: int, *, a_week: int = 5, series: int = 1
) -> Callable[[int], float]:
    person = Person(able, spread, a_week=a_week)

    def course(number: int) -> float:
        chance = _any(number)
        return any(decline_seen(person, weeks, chance) is not None for _ in range(series))

    return course


def _finds_change(
    able: Ability, spread: float, weeks: int, *, a_week: int = 5
) -> Callable[[int], float]:
    person = Person(able, spread, a_week=a_week)

    def course(number: int) -> float:
        seen = decline_seen(person, weeks, _any(number))
        return seen is not None and ONSET <= seen <= ONSET + WITHIN_DAYS

    return course


def _finds_change_meanwhile(spread: float) -> Callable[[int], float]:
    """Return the test with every proposal accepted meanwhile."""

    def course(number: int) -> float:
        chance = _any(number)
        able = random_ability(chance)
        fall = falls(0.25, over=14)
        person = Person(lambda day: able * fall(day) / 10.0, spread)
        seen = targets_taken(person, 10, chance).declined_on
        return any(ONSET <= day <= ONSET + WITHIN_DAYS for day in seen)

    return course


def _report(able: Ability) -> Callable[[int], float]:
    return lambda number: simulate_changes(Person(able, 0.10), 8, _any(number))[1]


def _looks_at_fortnight(able: Ability) -> Callable[[int], float]:
    return lambda number: any(simulate_changes(Person(able, 0.10), 8, _any(number))[0])


def _person(chance: Random, able: Callable[[float], Ability], stops: bool | None) -> Person:
    """Return a random client: one of both spreads, three to five trials, and either way of ending a
    hold."""
    base = random_ability(chance)
    spread, trials = chance.choice((0.10, 0.15)), chance.randint(3, 5)
    return Person(able(base), spread, trials, chance.random() < 0.5 if stops is None else stops)


def _targets(
    count: Callable[[Person, Random], float],
    able: Callable[[float], Ability],
    *,
    stops: bool | None = None,
) -> Callable[[int], float]:
    def course(number: int) -> float:
        chance = _any(number)
        return count(_person(chance, able, stops), chance)

    return course


def _stays(base: float) -> Ability:
    return lambda day: base


def _turns(person: Person, chance: Random) -> float:
    return targets_taken(person, 8, chance).turns


def _few_turns(person: Person, chance: Random) -> float:
    return targets_taken(person, 8, chance).turns <= 3


def _in_range(person: Person, chance: Random) -> float:
    share = targets_taken(person, 8, chance).mean_of_last(14) / person.able(0)
    return 0.75 <= share <= 1.05


def _keeps_up(person: Person, chance: Random) -> float:
    return targets_taken(person, 8, chance).by_day[-1] >= 0.85 * person.able(56)


def _eased_in_time(person: Person, chance: Random) -> float:
    begins = rung_at_or_under_s(0.9 * person.able(0))
    moves = targets_taken(person, 7, chance, begins=begins).moves
    return any(way < 0 and 28 <= day < 28 + TEN_PRACTISED for day, way in moves)


def _drops(base: float) -> Ability:
    return lambda day: base * (0.7 if day >= 28 else 1.0)


def _rises(base: float) -> Ability:
    return lambda day: base * 1.03 ** (day / 7.0)


ROWS: Sequence[Row] = (
    Row("stable, eight weeks, CV 10 %: flagged as a decline", _share_flagged(steady, 0.10, 8), most=0.02),
    Row("stable, eight weeks, CV 15 %", _share_flagged(steady, 0.15, 8), most=0.07),
    Row("stable, 26 weeks, CV 10 %", _share_flagged(steady, 0.10, 26), most=0.10),
    Row(
        "five series, eight weeks, CV 10 %", _share_flagged(steady, 0.10, 8, series=5), most=0.05
    ),
    Row(
        "−25 % over two weeks, found within 28 days, CV 10 %",
        _finds_change(falls(0.25, over=14), 0.10, 10), least=0.90,
    ),
    Row("the same, CV 15 %", _finds_change(falls(0.25, over=14), 0.15, 10), least=0.70),
    Row("the same, CV 10 %, every proposal taken meanwhile", _finds_change_meanwhile(0.10), least=0.85),
    Row("the same, CV 15 %, every proposal taken meanwhile", _finds_change_meanwhile(0.15), least=0.65),
    Row("−2 % a week for 16 weeks", _share_flagged(grows(-0.02), 0.10, 16), least=0.90),
    Row("twice a week, −40 %, within four weeks", _finds_change(falls(0.40), 0.10, 10, a_week=2), least=0.85),
    Row("improving 1 % a week", _share_flagged(grows(0.01), 0.10, 8), most=0.01),
    Row("improving 5 % a week", _share_flagged(grows(0.05), 0.10, 8), most=0.01),
    Row("a report says “changed”, stable, CV 10 %", _report(steady), most=0.05),
    Row("any of eight weekly looks says so, stable", _looks_at_fortnight(steady), most=0.10),
    Row(
        "+25 % found by week 8",
        _looks_at_fortnight(lambda day: 10.0 * (1.0 + 0.25 * min(1.0, max(0.0, (day - 14) / 28)))), least=0.80,
    ),
    Row("first days low by 15 % for want of practice, nothing else", _looks_at_fortnight(low_at_first), most=0.10),
    Row("turns in eight weeks, who holds on", _targets(_turns, _stays, stops=False), most=1.5),
    Row("turns in eight weeks, who stops at the target", _targets(_turns, _stays, stops=True), most=2.0),
    Row("at most three turns", _targets(_few_turns, _stays), least=0.90),
    Row("the last two weeks at 75 to 105 % of what they can do", _targets(_in_range, _stays), least=0.90),
    Row("+3 % a week: at the end at least 85 %", _targets(_keeps_up, _rises), least=0.75),
    Row("a sudden −30 %: eased within ten practised days", _targets(_eased_in_time, _drops), least=0.90),
)  # fmt: skip


def mean_of(row: Row, courses: range) -> float:
    """Return the mean of this many courses."""
    return fmean(float(row.course(number)) for number in courses)
