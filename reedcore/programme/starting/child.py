"""A starting programme made fit for a child: no longer than a child's session."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from reedcore.catalogue.tasks import Task
from reedcore.dose import session_time
from reedcore.programme.plan import session_part
from reedcore.programme.programme import Item
from reedcore.safety import CHILD_SESSION_S


def fit_for_child(items: Sequence[Item], tasks: Mapping[str, Task]) -> tuple[Item, ...]:
    """Return no more of the items than a child's session holds.

    What the short day does not keep goes first, the last of it before the others; where that is not
    enough, the item that takes longest is done once less.
    """
    kept = list(items)
    while _seconds(kept, tasks) > CHILD_SESSION_S:
        spare = [item for item in kept if not item.short]
        longest = max(kept, key=lambda item: _seconds([item], tasks))
        if spare:
            kept.remove(spare[-1])
        elif longest.params.get("reps", 1) > 1:
            fewer = {**longest.params, "reps": longest.params["reps"] - 1}
            kept[kept.index(longest)] = replace(longest, params=fewer)
        elif longest.sets > 1:
            kept[kept.index(longest)] = replace(longest, sets=longest.sets - 1)
        else:
            break  # The check reports that it is too long.
    return tuple(kept)


def _seconds(items: Sequence[Item], tasks: Mapping[str, Task]) -> float:
    return session_time(session_part(item, tasks[item.task]) for item in items).seconds
