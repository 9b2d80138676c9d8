"""Loads of a programme besides seconds: back pressure, and loud voice per day."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from reedcore.catalogue.tasks import Task

from .plan import plans_of, pressure_of
from .programme import Programme


@dataclass(frozen=True, slots=True)
class Loads:
    """The loads of one programme.

    Attributes:
        cmh2o: back pressure by item; by task code the most of its items.
        loud_s: strong voice a day, seconds, all programmes in force together; None: not known.
    """

    cmh2o: Mapping[str, float] = field(default_factory=dict)
    loud_s: float | None = None


def loads_of(programme: Programme, tasks: Mapping[str, Task]) -> Loads:
    """Return the loads of a programme; deleted tasks count as zero."""
    items = tuple(each for each in programme.items if each.task in tasks)
    found: dict[str, float] = {}
    by_code: dict[str, float] = {}
    for item in items:
        pressure = pressure_of(item, tasks[item.task])
        if pressure is not None:
            found[item.id] = pressure
            by_code[item.task] = max(by_code.get(item.task, 0.0), pressure)
    plans = plans_of(replace(programme, items=items), tasks)
    return Loads(by_code | found, sum(plan.day_loud_s for _, plan in plans))
