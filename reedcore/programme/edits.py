"""Edits of a programme as values, made by users, by fixes of the check, and by decisions.

``edited(document, edit, catalogue)`` is the one place where any of them is carried out.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from copy import deepcopy
from functools import singledispatch
from typing import Any

from reedcore.catalogue.tasks import Task
from reedcore.errors import NoSuchTask, NotAnEdit

from . import taper
from .changes import (
    Document,
    DropValue,
    PutItem,
    SetValue,
    ShiftItem,
    TakeItem,
    apply_changes,
    item_of,
)
from .document import new_item
from .document_values import item_document, item_from, programme_document, programme_from
from .edit_values import (
    EDITS,
    AddItem,
    AddStrand,
    BeginTaper,
    BringBack,
    ChooseRung,
    ClimbRung,
    Edit,
    Maintain,
    MoveItem,
    Overrule,
    PlaceItem,
    RemoveItem,
    RemoveStrand,
    RepeatItem,
    Replace,
    SetField,
    SetFrame,
    SetLimit,
    SetParameter,
    SetPattern,
    SetRung,
    SetSeconds,
    SetStrand,
    StepTaper,
    Swap,
    Toggle,
    edit_of,
)
from .programme import MAIN
from .rungs import ladder_of, move_item, rung_of_item
from .swap import swap_task

__all__ = [
    "EDITS",
    "AddItem",
    "AddStrand",
    "BeginTaper",
    "BringBack",
    "ChooseRung",
    "ClimbRung",
    "Edit",
    "Maintain",
    "MoveItem",
    "Overrule",
    "PlaceItem",
    "RemoveItem",
    "RemoveStrand",
    "RepeatItem",
    "Replace",
    "SetField",
    "SetFrame",
    "SetLimit",
    "SetParameter",
    "SetPattern",
    "SetRung",
    "SetSeconds",
    "SetStrand",
    "StepTaper",
    "Swap",
    "Toggle",
    "apply_edit",
    "apply_edits",
    "edit_of",
]

#: Item fields that cannot be set as a whole.
NOT_SET = ("id", "task", "params", "limits", "pattern")
Catalogue = Mapping[str, Task]


def apply_edits(
    document: Mapping[str, Any], edits: Iterable[Edit], catalogue: Catalogue
) -> Document:
    """Return one edit after another."""
    made = dict(document)
    for each in edits:
        made = apply_edit(made, each, catalogue)
    return made


def apply_edit(document: Mapping[str, Any], edit: Edit, catalogue: Catalogue) -> Document:
    """Return the programme with one edit made; the one that was given stays as it was.

    Whether what comes of it fits is asked with ``cleaned``, as of any document.

    Raises:
        reedcore.errors.NoSuchItem: it is about an item that is not there.
        reedcore.errors.NoSuchTask: about a task that the catalogue has not.
        reedcore.errors.NotAnEdit: it names something that cannot be set this way.
    """
    return _dispatch_edit(edit, document, catalogue)


@singledispatch
def _dispatch_edit(edit: Edit, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    raise NotAnEdit(detail=type(edit).__name__)


def _task(catalogue: Catalogue, code: str) -> Task:
    if code not in catalogue:
        raise NoSuchTask(task=code[:40])
    return catalogue[code]


def _fresh(document: Mapping[str, Any], id: str) -> str:
    """Return an unused item id, so that adding one never replaces another."""
    if any(each["id"] == id for each in document["items"]):
        raise NotAnEdit(detail="id")
    return id


def _replace_item(document: Mapping[str, Any], id: str, item: dict[str, Any]) -> Document:
    items = [item if each["id"] == id else each for each in document["items"]]
    return {**document, "items": items}


@_dispatch_edit.register
def _add(edit: AddItem, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    last = document["items"][-1]["id"] if document["items"] else ""
    after = last if edit.after is None else edit.after
    item = new_item(_task(catalogue, edit.task), id=_fresh(document, edit.id))
    return apply_changes(document, [PutItem(item_document(item), after)])


@_dispatch_edit.register
def _bring_back(edit: BringBack, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    return apply_changes(document, [PutItem(edit.item, edit.after)])


@_dispatch_edit.register
def _repeat(edit: RepeatItem, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    again = {**deepcopy(item_of(document, edit.item)), "id": _fresh(document, edit.id)}
    return apply_changes(document, [PutItem(again, edit.item)])


@_dispatch_edit.register
def _remove(edit: RemoveItem, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    return apply_changes(document, [TakeItem(edit.item)])


@_dispatch_edit.register
def _move(edit: MoveItem, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    ids = [each["id"] for each in document["items"]]
    here = ids.index(item_of(document, edit.item)["id"])
    to = min(len(ids) - 1, max(0, here + edit.by))
    del ids[here]
    return apply_changes(document, [ShiftItem(edit.item, ids[to - 1] if to else "")])


@_dispatch_edit.register
def _place(edit: PlaceItem, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    ids = [each["id"] for each in document["items"]]
    here = ids.index(item_of(document, edit.item)["id"])
    to = ids.index(item_of(document, edit.at)["id"]) if edit.at else len(ids) - 1
    return apply_edit(document, MoveItem(edit.item, to - here), catalogue)


@_dispatch_edit.register
def _set_field(edit: SetField, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    if edit.name in NOT_SET:
        raise NotAnEdit(detail=edit.name)
    item_of(document, edit.item)
    return apply_changes(document, [SetValue(("items", edit.item, edit.name), edit.value)])


@_dispatch_edit.register
def _set_parameter(
    edit: SetParameter, document: Mapping[str, Any], catalogue: Catalogue
) -> Document:
    where = ("items", edit.item, "params", edit.name)
    if edit.value == "":
        item_of(document, edit.item)
        return apply_changes(document, [DropValue(where)])
    return apply_changes(document, [SetValue(where, edit.value)])


@_dispatch_edit.register
def _set_limit(edit: SetLimit, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    return apply_changes(
        document, [SetValue(("items", edit.item, "limits", edit.name), edit.value)]
    )


@_dispatch_edit.register
def _set_pattern(edit: SetPattern, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    return apply_changes(
        document, [SetValue(("items", edit.item, "pattern", edit.name), edit.value)]
    )


@_dispatch_edit.register
def _set_seconds(edit: SetSeconds, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    params = item_of(document, edit.item)["params"]
    name = next((each for each in ("held_s", "pant_s") if each in params), "seconds")
    where = ("items", edit.item)
    return apply_changes(
        document, [SetValue((*where, "params", name), edit.value), SetValue((*where, "row"), [])]
    )


@_dispatch_edit.register
def _toggle(edit: Toggle, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    value = item_of(document, edit.item).get(edit.name)
    if not isinstance(value, bool):
        raise NotAnEdit(detail=edit.name)
    return apply_edit(document, SetField(edit.item, edit.name, not value), catalogue)


@_dispatch_edit.register
def _climb(edit: ClimbRung, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    item = item_from(item_of(document, edit.item))
    to = rung_of_item(item, _task(catalogue, item.task), by=edit.by)
    return (
        dict(document)
        if to is None
        else apply_edit(document, SetRung(edit.item, to.changes, to.value), catalogue)
    )


@_dispatch_edit.register
def _choose(edit: ChooseRung, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    item = item_from(item_of(document, edit.item))
    ladder = ladder_of(item, _task(catalogue, item.task))
    if ladder is None or not 0 <= edit.place < len(ladder.rungs):
        raise NotAnEdit(detail="rung")
    value = ladder.rungs[edit.place]
    return apply_edit(document, SetRung(edit.item, ladder.changes, value), catalogue)


@_dispatch_edit.register
def _set_rung(edit: SetRung, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    item = item_from(item_of(document, edit.item))
    task = _task(catalogue, item.task)
    made = move_item(item, edit.changes, edit.value, task, catalogue)
    return _replace_item(document, edit.item, item_document(made))


@_dispatch_edit.register
def _swap(edit: Swap, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    item = item_from(item_of(document, edit.item))
    made = swap_task(item, _task(catalogue, edit.task))
    return _replace_item(document, edit.item, item_document(made))


#: Session fields besides dose and answers.
FRAME = ("sort", "school", "daily_for_life", "wording")


@_dispatch_edit.register
def _set_frame(edit: SetFrame, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    if not edit.part and edit.name not in FRAME:
        raise NotAnEdit(detail=edit.name)
    place = (edit.part, edit.name) if edit.part else (edit.name,)
    return apply_changes(document, [SetValue(place, edit.value)])


@_dispatch_edit.register
def _add_strand(edit: AddStrand, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    if edit.id in document.get("beside", {}):
        return dict(document)
    return apply_changes(document, [SetValue(("beside", edit.id), deepcopy(edit.strand))])


@_dispatch_edit.register
def _remove_strand(
    edit: RemoveStrand, document: Mapping[str, Any], catalogue: Catalogue
) -> Document:
    beside = {id: own for id, own in document.get("beside", {}).items() if id != edit.id}
    items = [
        each for each in document["items"] if each.get("strand", MAIN) != edit.id or not edit.id
    ]
    return {**document, "beside": beside, "items": items}


@_dispatch_edit.register
def _set_strand(edit: SetStrand, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    own = document.get("beside", {}).get(edit.id)
    if own is None:
        raise NotAnEdit(detail=edit.id[:40])
    within = {**own["dose"], edit.name: edit.value} if edit.part == "dose" else None
    fresh = {**own, "dose": within} if within else {**own, edit.name: edit.value}
    return apply_changes(document, [SetValue(("beside", edit.id), fresh)])


@_dispatch_edit.register
def _overrule(edit: Overrule, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    overrules = {k: why for k, why in document.get("overrules", {}).items() if k != edit.key}
    reason = edit.reason.strip()
    return {**document, "overrules": overrules | ({edit.key: reason} if reason else {})}


@_dispatch_edit.register
def _replace(edit: Replace, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    return deepcopy(edit.document)


@_dispatch_edit.register
def _begin_taper(edit: BeginTaper, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    programme = programme_from(document)
    begun = taper.begin(programme, peak_s=edit.peak_s, today=edit.today, catalogue=catalogue)
    return programme_document(begun)


@_dispatch_edit.register
def _step_taper(edit: StepTaper, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    programme = programme_from(document)
    stepped = taper.move_week(programme, by=edit.by, today=edit.today, catalogue=catalogue)
    return programme_document(stepped)


@_dispatch_edit.register
def _maintain(edit: Maintain, document: Mapping[str, Any], catalogue: Catalogue) -> Document:
    return programme_document(taper.to_maintenance(programme_from(document), today=edit.today))
