"""The weekly dose of voice, prescribed and received (MEASURES §5.9)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from zoneinfo import ZoneInfo

from reedcore.dose import Dose
from reedcore.dose.adherence import dose_received
from reedcore.measures import kind_of
from reedcore.programme.prescribed_item import PrescribedItem
from reedcore.programme.programme import MAIN
from reedcore.targets.judging import Aspect, Verdict

from .dues import NO_SLOT, due_by_doses, pauses_of
from .history import History
from .values import TrialRecord, Version

DAYS = 7
#: A trial that misses one of these was outside its band and does not count.
_BAND = {Aspect.PITCH.value, Aspect.LEVEL.value}


@dataclass(frozen=True, slots=True)
class WeekDose:
    """Voice held and spoken in the sessions of the seven days before today.

    Attributes:
        prescribed_s: seconds asked for on the days that were due; what is done on a trigger is
            due on no day.
        held_s: seconds of these that were received: each try up to its target, and none of a try
            outside its band. Extra practice, and what was done on a trigger, are apart.
        received: the one as a share of the other, 0 to 1; None where none was asked for.
    """

    prescribed_s: float
    held_s: float
    received: float | None


def week_dose(history: History, today: date) -> WeekDose:
    """Return the weekly dose of the programmes in force."""
    first = today - timedelta(days=DAYS)
    prescribed_s = _prescribed_s(history, first, today)
    tries = list(_tries(history, first, today))
    return WeekDose(
        prescribed_s=prescribed_s,
        held_s=sum(min(voiced, seconds) for voiced, seconds in tries),
        received=dose_received(tries, prescribed_s=prescribed_s),
    )


def _prescribed_s(history: History, first: date, today: date) -> float:
    programme = history.programme
    prescribed = programme.programme if programme else None
    if programme is None or prescribed is None:
        return 0.0
    pauses = [*pauses_of(history.stops, ZoneInfo(history.zone), today), *history.rested]
    whole = 0.0
    for strand in (MAIN, *prescribed.beside):
        doses = [(each.on, _dose(each, strand)) for each in history.in_force]
        due = due_by_doses(doses, today, pauses)
        a_session = sum(
            task.tries_per_session * (_asked_s(task) or 0.0)
            for task in programme.tasks
            if (task.item.strand if task.item else MAIN) == strand
        )
        whole += a_session * sum(count for day, count in due.items() if day >= first)
    return whole


def _dose(version: Version, strand: str) -> tuple[Dose, ...]:
    return (version.doses[strand],) if strand in version.doses else ()


def _asked_s(task: PrescribedItem) -> float | None:
    """Return the voiced seconds that a try asks for; None if it is not measured, is all air, or has
    no duration."""
    kind = kind_of(task.measure)
    if not (task.shipped.voiced if task.shipped else not kind.is_air):
        return None
    if kind.can_be_steady:
        return task.target_s
    return task.seconds if kind.is_by_line else None


def _tries(history: History, first: date, today: date) -> Iterator[tuple[float, float]]:
    """Return (voiced seconds, target seconds) of each try in sessions that fill slots."""
    apart = {each.key for each in history.sessions if each.sort in NO_SLOT}
    for trials in history.by_series.values():
        for trial in trials:
            task = history.prescribed_items[trial.task]
            seconds = _asked_s(task)
            if seconds is None or not first <= trial.on < today or trial.session in apart:
                continue
            if trial.total_s is not None and _in_its_band(trial):
                # The speaker decides how long a line takes: a spoken line counts.
                spoken = kind_of(task.measure).is_by_line
                yield (seconds if spoken else trial.total_s), trial.set_s or seconds


def _in_its_band(trial: TrialRecord) -> bool:
    return not any(
        part["part"] in _BAND and part["verdict"] == Verdict.NOT_MET.value for part in trial.parts
    )
