"""The next rung of a task, whatever its ladder changes: seconds, width, stage, model, posture.

Proposals, the words about them, and the taking of them all ask here.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from reedcore.catalogue.tasks import shipped_ladders
from reedcore.ladders import HISS_RUNGS_S, HOLD_RUNGS_S, rung_above_s, rung_below_s

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
    """One rung up or down; None at the end of the ladder, and where a task has none."""
    if asked.target_s is not None:
        return _of_seconds(asked, asked.target_s, by)
    ladder = shipped_ladders().get(asked.shipped.ladder) if asked.shipped else None
    if ladder is None or not asked.item:
        return None
    stands = asked.params.get(ladder.changes, ladder.rungs[0])
    value = ladder.moved(stands, by=by)
    to, at = ladder.place_of(value), ladder.place_of(stands)
    if value == stands or to is None:
        return None
    if by > 0 and ladder.by_choice is not None and to >= ladder.by_choice:
        return None  # from there on only by a written choice
    before = ladder.labels[at] if at is not None else str(stands)
    return Rung(ladder.changes, value, ladder.labels[to], before)


def _of_seconds(asked: Asking, now_s: float, by: int) -> Rung | None:
    rungs = HISS_RUNGS_S if asked.measure == "hiss" else HOLD_RUNGS_S
    seconds = (rung_above_s if by > 0 else rung_below_s)(now_s, rungs)
    if seconds is None:
        return None
    return Rung(SECONDS, seconds, f"{seconds:g} s", f"{now_s:g} s", seconds)


def moved(item: Mapping[str, Any], to: Rung) -> dict[str, Any]:
    """An item of a document with that rung set; a row of rising targets gives way to it."""
    row = [] if to.changes == SECONDS else item.get("row", [])
    return {**item, "params": {**item["params"], to.changes: to.value}, "row": row}
