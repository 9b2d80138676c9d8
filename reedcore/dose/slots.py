"""Due sessions: dated, rolling without an end, and on demand."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from enum import StrEnum

from reedcore.errors import ValueOutOfRange

#: Minimum interval between sessions of a day.
APART_H = 3.0
#: Usual times of the first and the last session (convention).
FIRST, LAST = time(9, 0), time(18, 0)
MOST_A_DAY, MOST_WEEKS = 5, 52
#: Maximum a day for an on-demand dose.
MOST_ON_DEMAND = 30


class DoseKind(StrEnum):
    """The kind of schedule."""

    SLOTS = "slots"
    #: Open-ended maintenance with a review date.
    ROLLING = "rolling"
    #: On a trigger: an aim per day, never “missed”.
    ON_DEMAND = "on_demand"


@dataclass(frozen=True, slots=True)
class Dose:
    """A schedule: how often, on which days and for how long a programme is practised.

    Attributes:
        weekdays: 0 Monday … 6 Sunday, the days with sessions.
        weeks: how many; of a rolling dose the weeks until the recheck.
        off: days that are left out (holidays, travel).
        times: of the sessions of a day; empty for the usual ones.
        trigger: on what an on-demand dose is done.

    Raises:
        ValueOutOfRange: no sessions or over 5 a day (30 on demand), no days, over 52 weeks.
    """

    kind: DoseKind
    start: date
    a_day: int = 2
    weekdays: tuple[int, ...] = (0, 1, 2, 3, 4)
    weeks: int = 6
    off: tuple[date, ...] = ()
    times: tuple[time, ...] = ()
    trigger: str = ""

    def __post_init__(self) -> None:
        most = MOST_ON_DEMAND if self.kind is DoseKind.ON_DEMAND else MOST_A_DAY
        for what, value, highest in (
            ("sessions a day", self.a_day, most),
            ("days a week", len(set(self.weekdays) & set(range(7))), 7),
            ("weeks", self.weeks, MOST_WEEKS),
        ):
            if not 1 <= value <= highest:
                raise ValueOutOfRange(what=what, value=value, lowest=1, highest=highest)

    @property
    def end(self) -> date:
        """Return the last day; for a rolling dose the day of the recheck."""
        return self.start + timedelta(weeks=self.weeks, days=-1)

    @property
    def rest_days(self) -> int:
        """Return the days a week without a session."""
        return 7 - len(set(self.weekdays))

    @property
    def day_times(self) -> tuple[time, ...]:
        """Return when the sessions of a day are: as set, else spread over the day."""
        if len(self.times) == self.a_day:
            return self.times
        first = FIRST.hour * 60 + FIRST.minute
        span = LAST.hour * 60 + LAST.minute - first
        step = max(APART_H * 60, span / max(1, self.a_day - 1)) if self.a_day > 1 else 0
        minutes = [min(23 * 60, round(first + step * at)) for at in range(self.a_day)]
        return tuple(time(each // 60, each % 60) for each in minutes)


@dataclass(frozen=True, slots=True)
class Slot:
    """A due session; ``number`` counts the day's sessions from 1."""

    day: date
    number: int
    at: datetime


def due_slots(dose: Dose, *, until: date | None = None) -> tuple[Slot, ...]:
    """Return every slot from the start to the end (or to ``until``), in local time without a zone.

    What is done on demand has none.
    """
    if dose.kind is DoseKind.ON_DEMAND:
        return ()
    times = dose.day_times
    return tuple(
        Slot(day, number, datetime.combine(day, at))
        for day in due_dates(dose, first=dose.start, until=dose.end if until is None else until)
        for number, at in enumerate(times, start=1)
    )


def due_dates(dose: Dose, *, first: date, until: date) -> Iterator[date]:
    """Yield the days with a session, from ``first`` to ``until``, both included, within
    the dose."""
    day, last = max(dose.start, first), min(until, dose.end)
    while day <= last:
        if day.weekday() in dose.weekdays and day not in dose.off:
            yield day
        day += timedelta(days=1)
