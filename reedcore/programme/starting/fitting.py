"""One task fitted to a client: notes, seconds, levels and props."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from reedcore.catalogue.tasks import Task
from reedcore.checks.targets import HIGHEST_ABOVE_COMFORT_DB
from reedcore.devices.bores import ALIKE, BORES
from reedcore.errors import Refusal
from reedcore.ladders import rung_at_or_under_s
from reedcore.measures import kind_of
from reedcore.pitch import Note, note_nearest
from reedcore.pitch.note_sets import USUAL_SETS, NoteSet, middle_set
from reedcore.programme.document import new_item
from reedcore.programme.document_schema import LIMITS
from reedcore.programme.document_values import item_document, item_from
from reedcore.programme.plan import reach_of
from reedcore.programme.programme import Item
from reedcore.programme.sounds import is_glide
from reedcore.safety.cautions import CHILD_CEILING_DB

from .client import AcceptedTarget, ClientFigures

#: Trials on any easy note while the five notes are unknown.
POWER_NOTES = 5


def fitted_item(
    task: Task, client: ClientFigures, *, id: str, changes: Mapping[str, Any] | None = None
) -> Item:
    """Return a task as an item, with this client's notes, seconds, levels and props.

    Args:
        changes: fields of the item that differ, as a document holds them; ``note`` names a note of
            the client's set.
    """
    changes = dict(changes or {})
    note = changes.pop("note", task.note_set or ("warm_up" if task.notes == 1 else ""))
    item = item_from({**item_document(new_item(task, id=id)), **changes})
    if is_glide(item, task):
        item = replace(item, notes=_glide_ends(task, client))
    elif note or task.notes > 1:
        item = replace(item, notes=_notes(note or "power", client))
        if task.note_set == "power" and not item.notes:
            item = replace(item, sets=POWER_NOTES)
        item = replace(item, notes=_within(item, task, client))
    item = replace(item, params={**item.params, **_owned_bore(task, client)})
    item = _fit_levels(_fit_seconds(item, task, client.targets), task, client.targets)
    item = _within_best(item, task, client)
    return _with_lower_ceiling(item) if client.is_child else item


def _with_lower_ceiling(item: Item) -> Item:
    """Return the item with a ceiling below maximal loudness for a child."""
    if item.ceiling is None or item.ceiling <= CHILD_CEILING_DB:
        return item
    floor = None if item.floor is None else min(item.floor, CHILD_CEILING_DB / 2)
    return replace(item, floor=floor, ceiling=CHILD_CEILING_DB)


def _within_best(item: Item, task: Task, client: ClientFigures) -> Item:
    """Return the hiss limited to the longest one of the baseline."""
    unvoiced = kind_of(task.measure).is_in_seconds and not task.voiced
    longest = client.longest_hiss_s if unvoiced else None
    if longest is None or item.params.get("seconds", 0.0) <= longest:
        return item
    lowest = task.parameters["seconds"].lowest
    seconds = max(lowest, rung_at_or_under_s(longest))
    return replace(item, params={**item.params, "seconds": seconds})


def _fit_seconds(item: Item, task: Task, targets: Mapping[str, AcceptedTarget]) -> Item:
    """Return seconds and steadiness, as the targets have them."""
    kind = kind_of(task.measure)
    hold = targets.get("hold")
    seconds = hold.values.get("today_s") if hold else None
    if hold and seconds and task.note_set:
        seconds = min(seconds, task.parameters["seconds"].highest)
        item = replace(
            item, params={**item.params, "seconds": seconds}, counts=hold.counts or "total"
        )
    elif seconds and kind.can_be_steady and task.breath_inside == "none":
        seconds = min(item.params.get("seconds", seconds), seconds)
        item = replace(item, params={**item.params, "seconds": seconds})
    steadiness = targets.get("steadiness")
    if steadiness and kind.can_be_steady and task.family == "block":
        item = replace(item, limits={name: steadiness.values.get(name) for name in LIMITS})
    return item


def _fit_levels(item: Item, task: Task, targets: Mapping[str, AcceptedTarget]) -> Item:
    """Return the item with the floor and ceiling of the targets."""
    kind = kind_of(task.measure)
    if task.is_loud:
        level = targets["loud_level"].values if "loud_level" in targets else {}
        ceiling = level.get("ceiling_db", HIGHEST_ABOVE_COMFORT_DB)
        return replace(item, floor=level.get("floor_db"), ceiling=ceiling)
    if task.family in ("occluded", "block") and kind.can_have_level and "soft_level" in targets:
        return replace(item, ceiling=targets["soft_level"].values.get("ceiling_db"))
    if kind.is_by_line and "talk_level" in targets:
        level = targets["talk_level"].values
        return replace(item, floor=level.get("floor_db"), ceiling=level.get("ceiling_db"))
    return item


def _owned_bore(task: Task, client: ClientFigures) -> dict[str, float]:
    """Return bore and length of the client's own straw or tube, if the task uses one."""
    if "bore_mm" not in task.parameters or not task.props:
        return {}
    alike = next((each for each in ALIKE if task.props[0] in each), frozenset())
    owned = [prop for prop in client.props if prop in alike]
    if not owned or task.props[0] in owned:
        return {}
    bore_mm, length_cm = BORES[owned[0]]
    return {"bore_mm": bore_mm, "length_cm": length_cm}


def _comfortable(client: ClientFigures) -> tuple[Note, Note] | None:
    """Return the lowest and the highest note of the comfortable range; None if it is not known."""
    if client.comfortable is None:
        return None
    try:
        low, _ = note_nearest(client.comfortable.low_hz, a4_hz=client.a4_hz)
        high, _ = note_nearest(client.comfortable.high_hz, a4_hz=client.a4_hz)
    except Refusal:
        return None
    return low, high


def _within(item: Item, task: Task, client: ClientFigures) -> tuple[int, ...]:
    """Return a pattern's start note, moved so that its highest note lies in the
    comfortable range."""
    reach, ends = reach_of(item, task), _comfortable(client)
    if not reach or ends is None:
        return item.notes
    low, high = ends
    down = max(0, reach[1].midi - high.midi)
    return tuple(max(low.midi, midi - down) for midi in item.notes)


def _notes(kind: str, client: ClientFigures) -> tuple[int, ...]:
    notes = client.targets.get("notes")
    values = notes.values if notes else {}
    if "warm_up_midi" in values:
        warm_up = int(values["warm_up_midi"])
        own = (value for name, value in sorted(values.items()) if name.startswith("power_"))
        return tuple(map(int, own)) if kind == "power" else (warm_up,)
    usual = USUAL_SETS.get(client.voice) or _own_notes(client)
    if usual is None:
        return ()
    power = tuple(note.midi for note in usual.power)
    return power if kind == "power" else (usual.warm_up.midi,)


def _own_notes(client: ClientFigures) -> NoteSet | None:
    """Return five notes in the middle of a voice's own range."""
    ends = _comfortable(client)
    return middle_set(lowest=ends[0], highest=ends[1]) if ends else None


def _glide_ends(task: Task, client: ClientFigures) -> tuple[int, ...]:
    """End of a glide inside the comfortable range, in the order in which it is sung."""
    comfortable = _comfortable(client)
    if comfortable is None:
        return ()
    low, high = (note.midi for note in comfortable)
    ends = (low, Note((low + high) // 2).midi) if task.family == "cooldown" else (low, high)
    return ends[::-1] if task.shape == "down" else ends
