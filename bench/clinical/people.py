"""Simulated clients: their best from day to day. Days are correlated, and trials differ less than
days."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, timedelta
from random import Random

MONDAY = date(2026, 1, 5)
#: Correlation between practised days, and the spread of a day's trials relative to that of days.
AUTOCORRELATION, WITHIN = 0.3, 0.5
#: Practised weekdays by days per week.
WEEKDAYS = {2: (0, 3), 5: (0, 1, 2, 3, 4)}
#: The client's usual best of a day, s.
Ability = Callable[[int], float]


@dataclass(frozen=True)
class Person:
    """Attributes:
    able: by the day of the course, s.
    spread: of days, as a share of what they can do; trials of a day spread by half of that.
    trials: a session.
    stops: ends each hold at the target, where it is reached; otherwise holds as long as possible.
    """

    able: Ability
    spread: float
    trials: int = 4
    stops: bool = False
    a_week: int = 5
    autocorrelation: float = AUTOCORRELATION


def practice_days(person: Person, weeks: int) -> list[int]:
    """Return the practised days of a course."""
    return [day for day in range(7 * weeks) if day % 7 in WEEKDAYS[person.a_week]]


class Days:
    """The days of a course: the holds of each, at any target."""

    def __init__(self, person: Person, chance: Random) -> None:
        self.person, self.chance = person, chance
        self.state = chance.gauss(0.0, 1.0)

    def held(self, day: int, target_s: float | None = None) -> list[float]:
        """Return the holds of a session, s."""
        person, chance, rho = self.person, self.chance, self.person.autocorrelation
        self.state = rho * self.state + (1 - rho**2) ** 0.5 * chance.gauss(0.0, 1.0)
        of_day = person.able(day) * max(0.05, 1.0 + person.spread * self.state)
        holds = [
            of_day * max(0.05, 1.0 + WITHIN * person.spread * chance.gauss(0.0, 1.0))
            for _ in range(person.trials)
        ]
        if person.stops and target_s is not None:
            # A person who watches a clock stops a little late.
            return [min(hold, target_s * (1.0 + 0.02 * chance.random())) for hold in holds]
        return holds


def on(day: int) -> date:
    """Return the date of a day of the course."""
    return MONDAY + timedelta(days=day)
