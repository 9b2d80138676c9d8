"""How long one try of an item lasts."""

from collections.abc import Mapping
from typing import Any

from reedcore.catalogue.tasks import Task
from reedcore.measures import kind_of


def try_seconds(task: Task, params: Mapping[str, Any]) -> float:
    """As its kind of measure says."""
    return kind_of(task.measure).seconds(task, params)
