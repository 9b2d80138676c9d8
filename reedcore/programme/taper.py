"""The taper in a programme, step by step; a step back loses nothing."""

from collections.abc import Iterable, Mapping
from dataclasses import replace
from datetime import date

from reedcore.catalogue.tasks import Task
from reedcore.dose import DoseKind
from reedcore.errors import NotAnEdit

from .programme import Programme, TaperState
from .taper_weeks import POWER, TAPER

BLOCK_FAMILY = "block"
POWER_TASK = "block_power"
#: One week per step, and one more in which to decide the next.
WEEKS_A_STEP = 2
#: Maintenance is reviewed after a quarter of a year.
RECHECK_WEEKS = 13


def begin(
    programme: Programme, *, peak_s: float, today: date, catalogue: Mapping[str, Task]
) -> Programme:
    """Return the programme in the first week; it keeps its state from before the taper."""
    state = TaperState(1, round(peak_s, 2), today, programme.items, programme.dose)
    return _programme_in_week(programme, state, 1, today, catalogue)


def move_week(
    programme: Programme, *, by: int, today: date, catalogue: Mapping[str, Task]
) -> Programme:
    """Return the programme a week on or back.

    Raises:
        NotAnEdit: it has no taper.
    """
    if programme.taper is None:
        raise NotAnEdit(detail="taper")
    week = min(len(TAPER), max(1, programme.taper.week + by))
    return _programme_in_week(programme, programme.taper, week, today, catalogue)


def to_maintenance(programme: Programme, *, today: date) -> Programme:
    """Return maintenance without an end, with the current programme and a date to recheck."""
    dose = replace(programme.dose, kind=DoseKind.ROLLING, start=today, weeks=RECHECK_WEEKS)
    return replace(programme, sort="maintenance", dose=dose, taper=None)


def _programme_in_week(
    programme: Programme, state: TaperState, week: int, today: date, catalogue: Mapping[str, Task]
) -> Programme:
    taper_week = TAPER[week - 1]
    items = []
    for item in state.items:
        if item.strand:  # Items beside the block stay unchanged.
            items.append(item)
            continue
        task = catalogue.get(item.task)
        if task is None or task.family != BLOCK_FAMILY:
            items.append(item)
        elif taper_week.tasks != POWER or item.task == POWER_TASK:
            params = {**item.params, "reps": taper_week.repetitions}
            items.append(replace(item, sets=1, params=params))
    dose = replace(
        state.dose,
        kind=DoseKind.SLOTS,
        start=today,
        a_day=taper_week.a_day,
        weekdays=_spread(state.dose.weekdays, taper_week.days),
        weeks=WEEKS_A_STEP,
    )
    taper = replace(state, week=week, since=today)
    return replace(programme, items=tuple(items), dose=dose, taper=taper)


def _spread(weekdays: Iterable[int], days: int) -> tuple[int, ...]:
    """Return this many of the client's practice days, evenly spaced; never more than there are."""
    usual = tuple(sorted(weekdays))
    if days >= len(usual):
        return usual
    return tuple(usual[(place * len(usual)) // days] for place in range(days))
