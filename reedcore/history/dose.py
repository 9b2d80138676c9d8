"""How much voice was asked for in a week, and how much of it was received."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from reedcore.dose.adherence import dose_received
from reedcore.measures import kind_of

from .dues import due_days
from .history import History

DAYS = 7


@dataclass(frozen=True, slots=True)
class WeekDose:
    """Held voice of the seven days before today.

    Attributes:
        prescribed_s: seconds asked for on the days that were due.
        received: share of them that was held, each try up to its target, 0 to 1; None where none
            was asked for.
    """

    prescribed_s: float
    held_s: float
    received: float | None


def week_dose(history: History, today: date) -> WeekDose:
    """By the version in force; extra practice counts for what is held, not for what is asked."""
    first = today - timedelta(days=DAYS)
    programme = history.programme
    a_session = sum(
        task.tries * task.target_s
        for task in (programme.tasks if programme else ())
        if kind_of(task.measure).steady and task.target_s
    )
    due = sum(count for day, count in due_days(history, today).items() if day >= first)
    tries = [
        (trial.total_s, asked)
        for of in history.by_series.values()
        for trial in of
        if first <= trial.on < today
        and trial.total_s is not None
        and kind_of(history.askings[trial.task].measure).steady
        and (asked := history.asked_s(trial)) is not None
    ]
    return WeekDose(
        prescribed_s=due * a_session,
        held_s=sum(held for held, _ in tries),
        received=dose_received(tries, prescribed_s=due * a_session),
    )
