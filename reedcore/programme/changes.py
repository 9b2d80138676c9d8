"""The changes of an edit: items added, removed and moved, and values set.

A change records an edit, so that two edits can be compared and one can be undone.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterable, Iterator, Mapping
from copy import deepcopy
from dataclasses import dataclass
from functools import singledispatch
from typing import Any, Literal

from pydantic import TypeAdapter, ValidationError

from reedcore.errors import NoSuchItem, NotAnEdit

Document = dict[str, Any]
#: A path in a document: ("dose", "weeks"), ("items", id, "params", "seconds"), ("order", id) …
Place = tuple[str, ...]
#: Parts of a document, and of an item, whose values change one by one.
PARTS, ITEM_PARTS = ("dose", "practice", "overrules", "beside"), ("params", "limits", "pattern")
_GONE = object()


@dataclass(frozen=True, slots=True)
class PutItem:
    """An item as it is, behind another; the first where ``after`` is empty, the last where that
    one is not there any more."""

    item: dict[str, Any]
    after: str = ""
    is_a: Literal["put"] = "put"


@dataclass(frozen=True, slots=True)
class TakeItem:
    """An item out."""

    item: str
    is_a: Literal["take"] = "take"


@dataclass(frozen=True, slots=True)
class ShiftItem:
    """An item to a place behind another; ``after`` as in ``PutItem``."""

    item: str
    after: str = ""
    is_a: Literal["shift"] = "shift"


@dataclass(frozen=True, slots=True)
class SetValue:
    """One value."""

    place: Place
    value: Any
    is_a: Literal["set"] = "set"


@dataclass(frozen=True, slots=True)
class DropValue:
    """Remove one value, if it is there."""

    place: Place
    is_a: Literal["drop"] = "drop"


Change = PutItem | TakeItem | ShiftItem | SetValue | DropValue
_CHANGES: TypeAdapter[list[Change]] = TypeAdapter(list[Change])


def raw_changes(changes: Iterable[Change]) -> list[dict[str, Any]]:
    """Return changes in their stored form."""
    raw: list[dict[str, Any]] = _CHANGES.dump_python(list(changes), mode="json")
    return raw


def changes_of(raw: Any) -> tuple[Change, ...]:
    """Return changes from their stored form.

    Raises:
        reedcore.errors.NotAnEdit: it is none of them.
    """
    try:
        return tuple(_CHANGES.validate_python(raw))
    except ValidationError as error:
        raise NotAnEdit(detail=str(error.errors()[0]["loc"])) from error


def place_of(change: Change) -> Place:
    """Return the place that a change affects."""
    match change:
        case PutItem():
            return ("items", str(change.item["id"]))
        case TakeItem():
            return ("items", change.item)
        case ShiftItem():
            return ("order", change.item)
        case _:
            return tuple(change.place)


def touch(one: Place, other: Place) -> bool:
    """Return whether two changes affect each other: one place contains the other or equals it, such
    as an item and its value, or its position and its removal."""
    if {one[0], other[0]} == {"order", "items"}:
        return one[1] == other[1] and 2 in (
            len(each) for each in (one, other) if each[0] == "items"
        )
    shorter = min(len(one), len(other))
    return one[:shorter] == other[:shorter]


def clashes(mine: Iterable[Change], theirs: Iterable[Change]) -> list[Change]:
    """Return those of theirs that touch mine and are not the same."""
    own = list(mine)
    return [
        each
        for each in theirs
        if each not in own and any(touch(place_of(each), place_of(other)) for other in own)
    ]


def apply_changes(document: Mapping[str, Any], changes: Iterable[Change]) -> Document:
    """Return the document with the changes made, one after another.

    Raises:
        reedcore.errors.NoSuchItem: an item that is not there.
    """
    made = deepcopy(dict(document))
    for each in changes:
        _make(each, made)
    return made


@singledispatch
def _make(change: Change, document: Document) -> None:
    raise NotAnEdit(detail=type(change).__name__)


@_make.register
def _apply_put(change: PutItem, document: Document) -> None:
    items = [each for each in document["items"] if each["id"] != change.item["id"]]
    document["items"] = items
    items.insert(_position_after(change.after, document), deepcopy(change.item))


@_make.register
def _take(change: TakeItem, document: Document) -> None:
    item_of(document, change.item)
    document["items"] = [each for each in document["items"] if each["id"] != change.item]


@_make.register
def _shift(change: ShiftItem, document: Document) -> None:
    item = item_of(document, change.item)
    if change.after != change.item:
        document["items"].remove(item)
        document["items"].insert(_position_after(change.after, document), item)


@_make.register
def _apply_set(change: SetValue, document: Document) -> None:
    _inside(document, change.place)[change.place[-1]] = deepcopy(change.value)


@_make.register
def _drop(change: DropValue, document: Document) -> None:
    _inside(document, change.place).pop(change.place[-1], None)


def _position_after(after: str, document: Document) -> int:
    ids = [each["id"] for each in document["items"]]
    if not after:
        return 0
    return ids.index(after) + 1 if after in ids else len(ids)


def _inside(document: Document, place: Place) -> Document:
    if place[0] == "items":
        inside = item_of(document, place[1])
        return inside.setdefault(place[2], {}) if len(place) > 3 else inside
    return document.setdefault(place[0], {}) if len(place) > 1 else document


def item_of(document: Mapping[str, Any], id: str) -> dict[str, Any]:
    """Return the item of that id.

    Raises:
        reedcore.errors.NoSuchItem: there is none.
    """
    for item in document["items"]:
        if item["id"] == id:
            found: dict[str, Any] = item
            return found
    raise NoSuchItem(item=id)


def changes_between(before: Mapping[str, Any], after: Mapping[str, Any]) -> tuple[Change, ...]:
    """Return the changes from one document to the other: ``changed(before, …)`` equals
    ``after``."""
    old = {item["id"]: item for item in before["items"]}
    new = {item["id"]: item for item in after["items"]}
    made: list[Change] = [TakeItem(id) for id in old if id not in new]
    stands = [id for id in old if id in new]
    keeps = _longest_ordered_run(stands, list(new))
    last = ""
    for id, item in new.items():
        if id not in old:
            made.append(PutItem(deepcopy(item), last))
        elif id not in keeps:
            made.append(ShiftItem(id, last))
        last = id
    for id in stands:
        made += _values(("items", id), old[id], new[id], ITEM_PARTS)
    whole = [{k: v for k, v in each.items() if k != "items"} for each in (before, after)]
    return (*made, *_values((), whole[0], whole[1], PARTS))


def _values(
    where: Place, old: Mapping[str, Any], new: Mapping[str, Any], parts: tuple[str, ...]
) -> Iterator[Change]:
    for name in [*old, *(each for each in new if each not in old)]:
        was, now = old.get(name, _GONE), new.get(name, _GONE)
        if was == now:
            continue
        place = (*where, name)
        if name in parts and isinstance(was, dict) and isinstance(now, dict):
            yield from _values(place, was, now, ())
        elif now is _GONE:
            yield DropValue(place)
        else:
            yield SetValue(place, deepcopy(now))


def _longest_ordered_run(stands: list[str], order: list[str]) -> set[str]:
    """Return the most items that need not be moved: the longest run already in the right order."""
    places = {id: place for place, id in enumerate(order)}
    ends: list[int] = []
    chains: list[list[str]] = []
    for id in stands:
        at = bisect_left(ends, places[id])
        chain = [*(chains[at - 1] if at else []), id]
        if at == len(ends):
            ends.append(places[id])
            chains.append(chain)
        else:
            ends[at], chains[at] = places[id], chain
    return set(chains[-1]) if chains else set()
