"""Find the next rung of a task on any ladder: seconds, width, stage, model, posture.

Proposals, the words about them, and the taking of them all ask here.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from reedcore.catalogue.settings import ladders_of
from reedcore.catalogue.tasks import Task, task_of_pair
from reedcore.ladders import Ladder, rung_above_s, rung_below_s
from reedcore.measures import kind_of

from .prescribed_item import PrescribedItem
from .programme import Item
from .swap import swap_task

SECONDS, FEEDBACK, SOUND = "seconds", "feedback", "sound"
#: Maximum duration of a hiss, seconds.
LONGEST_HISS_S = 120.0


@dataclass(frozen=True, slots=True)
class Rung:
    """A rung: the setting it changes, and its name.

    Attributes:
        changes: the one parameter.
        seconds: of a hold or a hiss, where that is what changes.
    """

    changes: str
    value: object
    label: str
    before: str
    seconds: float | None = None


#: Codes of the feedback rungs.
FEEDBACKS = {
    "live": "live", "after each trial": "trial", "after the block": "block", "none": "none",
}  # fmt: skip


def ladder_of(item: Item, task: Task) -> Ladder | None:
    """Return the ladder that an item climbs: the one that was chosen for it, or its task's own."""
    offered = ladders_of(task)
    return offered.get(item.ladder) or offered.get(task.ladder)


def current_rung_value(item: Item, task: Task, ladder: Ladder) -> Any:
    """Return the current rung, or a number between two; the first by default."""
    if ladder.changes == FEEDBACK:
        by_code = {code: rung for rung, code in FEEDBACKS.items()}
        return by_code[item.feedback]
    if ladder.changes == SOUND:
        return task.pair[1] if task.pair else ladder.rungs[0]
    usual = task.choice.get(ladder.changes, ladder.rungs[0])
    return item.params.get(ladder.changes, usual)


def rung(prescribed: PrescribedItem, *, by: int) -> Rung | None:
    """Return one rung up or down; None at the end of the ladder, and for a task without one. Rungs
    that need a written choice are never proposed."""
    if prescribed.shipped is None or prescribed.item is None:
        if prescribed.target_s is None:
            return None
        return _next_seconds_rung(prescribed.target_s, kind_of(prescribed.measure).rungs_s, by=by)
    ladder = ladder_of(prescribed.item, prescribed.shipped)
    if prescribed.target_s is not None and (ladder is None or ladder.changes == SECONDS):
        return _next_seconds_rung(
            prescribed.target_s, *_rungs_s(prescribed.item, prescribed.shipped, ladder), by=by
        )
    return _next_ladder_rung(prescribed.item, prescribed.shipped, ladder, by, is_chosen=False)


def rung_of_item(item: Item, task: Task, *, by: int) -> Rung | None:
    """Return the next rung for a clinician, including rungs that are only by choice."""
    ladder = ladder_of(item, task)
    seconds = max(item.row, default=None) or item.params.get(SECONDS)
    in_seconds = kind_of(task.measure).is_in_seconds and (
        ladder is None or ladder.changes == SECONDS
    )
    if in_seconds and seconds:
        return _next_seconds_rung(float(seconds), *_rungs_s(item, task, ladder), by=by)
    return _next_ladder_rung(item, task, ladder, by, is_chosen=True)


def _next_ladder_rung(
    item: Item, task: Task, ladder: Ladder | None, by: int, *, is_chosen: bool
) -> Rung | None:
    if ladder is None:
        return None
    stands = current_rung_value(item, task, ladder)
    value = ladder.move(stands, by=by)
    to, at = ladder.place_of(value), ladder.place_of(stands)
    if value == stands or to is None:
        return None
    if by > 0 and not is_chosen and ladder.by_choice is not None and to >= ladder.by_choice:
        return None
    before = ladder.labels[at] if at is not None else str(stands)
    return Rung(ladder.changes, value, ladder.labels[to], before)


def _rungs_s(item: Item, task: Task, ladder: Ladder | None) -> tuple[Sequence[float], float]:
    """Return the client's own where the item has them, else those that everybody has; and by how
    much they go on beyond the last."""
    if item.rungs:
        return item.rungs, 0.0
    if ladder is not None:
        return ladder.rungs, ladder.goes_on_by
    return kind_of(task.measure).rungs_s, 0.0


def _next_seconds_rung(
    now_s: float, rungs: Sequence[float], goes_on_by: float = 0.0, *, by: int
) -> Rung | None:
    seconds = (rung_above_s if by > 0 else rung_below_s)(now_s, rungs)
    if seconds is None and by > 0 and goes_on_by and now_s + goes_on_by <= LONGEST_HISS_S:
        seconds = now_s + goes_on_by
    if seconds is None:
        return None
    return Rung(SECONDS, seconds, f"{seconds:g} s", f"{now_s:g} s", seconds)


def move_item(
    item: Item, changes: str, value: Any, task: Task, catalogue: Mapping[str, Task]
) -> Item:
    """Return an item on another rung; a row of rising targets gives way to seconds."""
    if changes == FEEDBACK:
        return replace(item, feedback=FEEDBACKS.get(value, value))
    if changes == SOUND and task.pair:
        other = task_of_pair(task.pair[0], value, catalogue)
        return item if other is None else swap_task(item, other)
    row = () if changes == SECONDS else item.row
    ladder = next((each for each in ladders_of(task).values() if each.changes == changes), None)
    also = {ladder.also_changes: value} if ladder and ladder.also_changes else {}
    return replace(item, params={**item.params, changes: value, **also}, row=row)
