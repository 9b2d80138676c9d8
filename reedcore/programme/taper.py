"""The taper written into a programme, a step at a time; going back a step loses nothing."""

from collections.abc import Iterable, Mapping
from copy import deepcopy
from datetime import date
from typing import Any

from reedcore.catalogue.tasks import Task
from reedcore.dose import DoseKind

from .strands import strand_of_item
from .taper_weeks import POWER, TAPER

Document = Mapping[str, Any]
BLOCK_FAMILY = "block"
POWER_TASK = "block_power"
#: A week a step, and a week more in which the next one is decided.
WEEKS_A_STEP = 2
#: Maintenance is looked at again after a quarter of a year.
RECHECK_WEEKS = 13


def begin(
    document: Document, *, peak_s: float, today: date, catalogue: Mapping[str, Task]
) -> dict[str, Any]:
    """The first week; what the programme was before is kept in it."""
    before = {"items": document["items"], "dose": document["dose"]}
    taper = {"week": 1, "peak_s": round(peak_s, 2), "since": today.isoformat(), "before": before}
    return _at({**document, "taper": taper}, 1, today, catalogue)


def moved(
    document: Document, *, by: int, today: date, catalogue: Mapping[str, Task]
) -> dict[str, Any]:
    """A week on or back."""
    week = document["taper"]["week"] + by
    return _at(document, min(len(TAPER), max(1, week)), today, catalogue)


def maintained(document: Document, *, today: date) -> dict[str, Any]:
    """Maintenance without an end, as the programme now stands, with a date to recheck."""
    kept = {name: value for name, value in document.items() if name != "taper"}
    dose = {
        **document["dose"],
        "kind": DoseKind.ROLLING.value,
        "start": today.isoformat(),
        "weeks": RECHECK_WEEKS,
    }
    return {**kept, "sort": "maintenance", "dose": dose}


def _at(
    document: Document, week: int, today: date, catalogue: Mapping[str, Task]
) -> dict[str, Any]:
    asked = TAPER[week - 1]
    before = document["taper"]["before"]
    items = []
    for item in deepcopy(before["items"]):
        if strand_of_item(item):  # what stands beside the block goes on as it is
            items.append(item)
            continue
        task = catalogue.get(item["task"])
        if task is None or task.family != BLOCK_FAMILY:
            items.append(item)
        elif asked.tasks != POWER or item["task"] == POWER_TASK:
            items.append(
                {**item, "sets": 1, "params": {**item["params"], "reps": asked.repetitions}}
            )
    dose = {
        **before["dose"],
        "kind": DoseKind.SLOTS.value,
        "start": today.isoformat(),
        "a_day": asked.a_day,
        "weekdays": _spread(before["dose"]["weekdays"], asked.days),
        "weeks": WEEKS_A_STEP,
    }
    taper = {**document["taper"], "week": week, "since": today.isoformat()}
    return {**document, "items": items, "dose": dose, "taper": taper}


def _spread(weekdays: Iterable[int], days: int) -> list[int]:
    """So many of the client's own practice days, evenly apart; never more than there were."""
    usual = sorted(weekdays)
    if days >= len(usual):
        return usual
    return [usual[(place * len(usual)) // days] for place in range(days)]
