"""The next rung of a task, whatever its ladder changes: seconds, width, stage, model, posture.

Proposals, the words about them, and the taking of them all ask here.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from reedcore.catalogue.tasks import Task, shipped_ladders
from reedcore.ladders import rung_above_s, rung_below_s
from reedcore.measures import kind_of

from .asking import Asking

SECONDS = "seconds"


@dataclass(frozen=True, slots=True)
class Rung:
    """What moving there sets, and what it is called.

    Attributes:
        changes: the one parameter.
        seconds: of a hold or a hiss, where that is what changes.
    """

    changes: str
    value: object
    label: str
    before: str
    seconds: float | None = None


def rung(asked: Asking, *, by: int) -> Rung | None:
    """One rung up or down; None at the end of the ladder, and where a task has none. What the
    ladder keeps for a written choice is never proposed."""
    if asked.target_s is not None:
        return _of_seconds(asked.target_s, _rungs_s(asked.item, asked.measure), by)
    if asked.shipped is None or not asked.item:
        return None
    return _of_ladder(asked.params, asked.shipped, by, by_choice=False)


def rung_of_item(item: Mapping[str, Any], task: Task, *, by: int) -> Rung | None:
    """Likewise, as somebody chooses who prescribes: what is by choice is theirs to choose."""
    seconds = max(item["row"], default=None) or item["params"].get(SECONDS)
    if kind_of(task.measure).in_seconds and seconds:
        return _of_seconds(float(seconds), _rungs_s(item, task.measure), by)
    return _of_ladder(item["params"], task, by, by_choice=True)


def _of_ladder(params: Mapping[str, Any], task: Task, by: int, *, by_choice: bool) -> Rung | None:
    ladder = shipped_ladders().get(task.ladder)
    if ladder is None:
        return None
    stands = params.get(ladder.changes, ladder.rungs[0])
    value = ladder.moved(stands, by=by)
    to, at = ladder.place_of(value), ladder.place_of(stands)
    if value == stands or to is None:
        return None
    if by > 0 and not by_choice and ladder.by_choice is not None and to >= ladder.by_choice:
        return None
    before = ladder.labels[at] if at is not None else str(stands)
    return Rung(ladder.changes, value, ladder.labels[to], before)


def _rungs_s(item: Mapping[str, Any], measure: str) -> Sequence[float]:
    """The client's own where the item has them, else those that everybody has."""
    return item.get("rungs") or kind_of(measure).rungs_s


def _of_seconds(now_s: float, rungs: Sequence[float], by: int) -> Rung | None:
    seconds = (rung_above_s if by > 0 else rung_below_s)(now_s, rungs)
    if seconds is None:
        return None
    return Rung(SECONDS, seconds, f"{seconds:g} s", f"{now_s:g} s", seconds)


def moved(item: Mapping[str, Any], changes: str, value: object) -> dict[str, Any]:
    """An item of a document on another rung; a row of rising targets gives way to seconds."""
    row = [] if changes == SECONDS else item.get("row", [])
    return {**item, "params": {**item["params"], changes: value}, "row": row}
