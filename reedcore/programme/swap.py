"""Replacing an item's task; settings that do not depend on the task stay."""

from collections.abc import Collection, Iterator, Mapping
from dataclasses import replace
from typing import Any

from reedcore.catalogue.pairs import TUBE_NUMBERS
from reedcore.catalogue.settings import allowed_codes, numbers_of
from reedcore.catalogue.tasks import Task, easier_tasks
from reedcore.devices.bores import ALIKE

from .document import new_item
from .programme import Item

#: Item fields that do not depend on the task.
KEPT = ("sets", "notes", "counts", "sip", "cue", "short", "feedback", "lines", "pattern", "strand")


def substitute_for(
    code: str, catalogue: Mapping[str, Task], owned: Collection[str] | None = None
) -> Task | None:
    """Return substitutes for a task that a client cannot do, limited to the props they own.

    Args:
        owned: their props; None if unknown.
    """
    task = catalogue.get(code)
    if task is None:
        return None
    offered = easier_tasks(task, catalogue)
    return next((each for each in offered if has_props(each, owned)), None)


def has_props(task: Task, owned: Collection[str] | None) -> bool:
    """Return whether a client has the props of a task; any straw counts as a straw, any tube as a
    tube."""
    return owned is None or all(
        each in owned or any(each in alike and alike & set(owned) for alike in ALIKE)
        for each in task.props
    )


def _fitting(params: Mapping[str, Any], other: Task) -> Iterator[tuple[str, Any]]:
    """Return numbers within the other task's limits, and choices that it has too."""
    numbers, words = numbers_of(other), allowed_codes(other)
    for name, value in params.items():
        if isinstance(value, str):
            if value in words.get(name, ()):
                yield name, value
        elif name in numbers and name not in TUBE_NUMBERS:
            yield name, min(numbers[name].highest, max(numbers[name].lowest, value))


def swap_task(item: Item, other: Task) -> Item:
    """Return the item with that task; its numbers stay where the other task has such a number."""
    fresh = new_item(other, id=item.id)
    kept = {name: getattr(item, name) for name in KEPT}
    same = dict(_fitting(item.params, other))
    return replace(fresh, params={**fresh.params, **same}, reason=item.reason, **kept)
