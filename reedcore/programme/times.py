"""How long one try of an item lasts."""

from collections.abc import Mapping
from typing import Any

from reedcore.catalogue.tasks import Task
from reedcore.measures import kind_of

from .sounds import rounds_of


def item_seconds(item: Mapping[str, Any], task: Task) -> float:
    """As its kind of measure says; of a pattern one round."""
    rounds = rounds_of(item, task) if item.get("notes") else ()
    if rounds:
        return rounds[0].seconds
    return kind_of(task.measure).seconds(task, item.get("params", {}))
