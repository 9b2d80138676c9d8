"""A prescribed task: the row, and the core's value of it."""

from collections.abc import Mapping
from functools import cached_property
from typing import Any

from reedcore.catalogue.tasks import Task
from reedcore.programme.prescribed_item import PrescribedItem
from reedcore.programme.programme import Item
from web.catalogue.queries import all_tasks
from web.record.models import PrescribedTask
from web.record.programmes import load_prescribed_item


class PrescribedRow:
    """A prescribed task with its item in the document and its task of the catalogue."""

    def __init__(
        self,
        task: PrescribedTask,
        catalogue: dict[str, Task] | None = None,
        *,
        version: int | None = None,
    ) -> None:
        """``version`` says that the document is not to be read: the catalogue is enough."""
        self.task = task
        self._catalogue = catalogue
        self._version = version

    @cached_property
    def prescribed_item(self) -> PrescribedItem:
        """Return the prescription as a value of the core."""
        catalogue = self._catalogue
        if catalogue is None and self.task.task_code:
            catalogue = all_tasks(self.task.programme.client.clinic)
        return load_prescribed_item(self.task, catalogue or {}, version=self._version)

    @property
    def item(self) -> Item | None:
        """Return its item in its version; None for a single held sound."""
        return self.prescribed_item.item

    @property
    def shipped(self) -> Task | None:
        """Return the catalogue's task; None for a single held sound."""
        return self.prescribed_item.shipped

    @property
    def params(self) -> Mapping[str, Any]:
        """Return its parameters and rungs."""
        return self.prescribed_item.params

    @property
    def seconds(self) -> float:
        """Return how long a try lasts, or is to last."""
        return self.prescribed_item.seconds
