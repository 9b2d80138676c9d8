"""What somebody else changed meanwhile, in a sentence for whoever wanted to change the same."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from reedcore.pitch import Note, Spelling
from reedcore.programme.changes import Change, PutItem, SetValue, ShiftItem, TakeItem

from .version_diff import ANSWERS, DOSE, LIMIT_NAMES, MEDICATION, PLAIN, shown

if TYPE_CHECKING:
    from reedcore.catalogue.tasks import Task

_FRAME = {
    "sort": "type of session", "school": "school", "daily_for_life": "daily, long-term",
    "wording": "wording",
}  # fmt: skip


#: Fields of an item that its document calls otherwise.
_FIELDS = {"or": "alternative"}


def clash_words(
    change: Change, document: dict[str, Any], *, tasks: Any, who: str, spelling: Spelling
) -> str:
    """The sentence; it names who, what and to what."""
    match change:
        case PutItem():
            # a thing that is gone is told by what it was
            return (
                f"{who} removed “{_name(change.item, tasks)}” from the session while you "
                "were editing."
            )
        case TakeItem():
            return f"{who} removed that task from the session while you were editing."
        case ShiftItem():
            named = _named(change.item, document, tasks)
            return f"{who} moved {named} while you were editing."
    value = change.value if isinstance(change, SetValue) else None
    what, value = _what(change.place, value, document, tasks, spelling)
    return f"{who} changed {what} to {value} while you were editing."


def _named(id: str, document: dict[str, Any], tasks: dict[str, Task]) -> str:
    for number, item in enumerate(document["items"], 1):
        if item["id"] == id:
            return f"task {number}, “{_name(item, tasks)}”,"
    return "a task"


def _name(item: dict[str, Any], tasks: dict[str, Task]) -> str:
    return tasks[item["task"]].name if item["task"] in tasks else item["task"]


def _what(
    place: tuple[str, ...], value: Any, document: Any, tasks: Any, spelling: Spelling
) -> tuple[str, str]:
    if place[0] == "items":
        item, name = place[1], place[-1]
        if name == "notes" and value:
            value = " ".join(Note(midi).name(spelling) for midi in value)
        words = PLAIN.get(_FIELDS.get(name, name)) or LIMIT_NAMES.get(name) or name
        return f"{words} of {_named(item, document, tasks)}", shown(value)
    named = _FRAME.get(place[-1]) or DOSE.get(place[-1]) or ANSWERS.get(place[-1])
    if place == ("practice", "medication"):
        named = MEDICATION
    if place[0] == "overrules":
        named = "the reason for accepting a finding"
    return named or "the " + " ".join(place), shown(value)
