"""The catalogue: shipped tasks, ladders, and tasks read from plain data."""

from .settings import shipped_ladders
from .tasks import BadTask, Parameter, Task, shipped_tasks, task_from

__all__ = ["BadTask", "Parameter", "Task", "shipped_ladders", "shipped_tasks", "task_from"]
