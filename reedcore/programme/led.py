"""Practice led beat by beat: the phases of counted breaths, and rows of rising numbers."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from reedcore.catalogue.tasks import Task

from .programme import Item

#: Increase per breath, counts.
STEP = 4
#: Duration of the last puff, counts.
PUFF_COUNTS = 1


@dataclass(frozen=True, slots=True)
class Phase:
    """One part of a breath: ``way`` is in, hold, out or puff."""

    way: str
    counts: int


def breaths_of(item: Item, task: Task) -> tuple[tuple[Phase, ...], ...]:
    """Return the breaths of one set in order; empty if none are counted.

    A row rises from breath to breath, out and, where the breath is equal, in as well; a growing
    task by its step of four counts up to the most, and stays there.
    """
    params = item.params
    if not {"breath_in", "breath_out"} <= set(params):
        return ()
    most, count = int(params["breath_out"]), int(params.get("cycles", 1))
    outs = [int(value) for value in item.row]
    if not outs and task.growing:
        outs = [*range(STEP, most, STEP), most]
    if not outs:
        outs = [most]
    count = max(count, len(outs))
    breaths = []
    for at in range(count):
        out = outs[min(at, len(outs) - 1)]
        phases = [Phase("in", out if is_equal_breath(params, task) else int(params["breath_in"]))]
        if held := int(params.get("held", 0)):
            phases.append(Phase("hold", held))
        phases.append(Phase("out", out))
        if task.last_puff:
            phases.append(Phase("puff", PUFF_COUNTS))
        breaths.append(tuple(phases))
    return tuple(breaths)


def is_equal_breath(params: Mapping[str, Any], task: Task) -> bool:
    """Return whether as many counts are breathed in as out. Such a breath stays equal as it
    grows."""
    return not task.growing and params.get("breath_in") == params.get("breath_out")


def rising_s(item: Item) -> tuple[float, ...]:
    """Return the increasing seconds of its sets; empty if they are constant, or if counts increase
    instead."""
    return () if "breath_in" in item.params else item.row
