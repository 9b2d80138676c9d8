"""The taper of the vocal function block: a week a step, one step back when the hold is lost."""

from __future__ import annotations

from dataclasses import dataclass

ALL, POWER = "all", "power"


@dataclass(frozen=True, slots=True)
class TaperWeek:
    """The prescription of one week of a taper.

    Attributes:
        tasks: every task of the block, or the power notes alone.
        repetitions: of each.
        a_day: sessions on a practised day.
        days: practised days a week.
    """

    tasks: str
    repetitions: int
    a_day: int
    days: int


TAPER: tuple[TaperWeek, ...] = (
    TaperWeek(ALL, 2, 2, 7),
    TaperWeek(ALL, 2, 1, 7),
    TaperWeek(ALL, 1, 1, 7),
    TaperWeek(POWER, 2, 1, 7),
    TaperWeek(POWER, 1, 1, 7),
    TaperWeek(POWER, 1, 1, 3),
    TaperWeek(POWER, 1, 1, 1),
)
