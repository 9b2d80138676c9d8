"""A task in the place of another: what the item asks beside the task stays."""

from collections.abc import Mapping
from typing import Any

from reedcore.catalogue.tasks import Task

from .document import new_item

#: What of an item does not belong to its task.
KEPT = ("sets", "notes", "counts", "sip", "cue", "short", "feedback")


def substitute_for(code: str, catalogue: Mapping[str, Task]) -> Task | None:
    """What the catalogue offers to somebody who cannot do a task."""
    task = catalogue.get(code)
    if task is None:
        return None
    return next((catalogue[each] for each in task.substitutes if each in catalogue), None)


def swapped(item: Mapping[str, Any], other: Task) -> dict[str, Any]:
    """The item with that task; its numbers stay where the other task has such a number."""
    fresh = new_item(other, id=item["id"])
    kept = {name: item[name] for name in KEPT if name in item}
    same = {name: value for name, value in item["params"].items() if name in fresh["params"]}
    return {
        **fresh,
        **kept,
        "params": {**fresh["params"], **same},
        "reason": item.get("reason", ""),
    }
