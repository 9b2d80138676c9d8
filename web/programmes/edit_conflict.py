"""Describe another user's change in a sentence for the user whose edit conflicts with it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.utils.translation import gettext

from reedcore.pitch import Note, Spelling
from reedcore.programme.changes import Change, PutItem, SetValue, ShiftItem, TakeItem
from web.ui.marked import Words, gettext_noop

from .version_diff import ANSWERS, DOSE, LIMIT_NAMES, MEDICATION, PLAIN, display_value

if TYPE_CHECKING:
    from reedcore.catalogue.tasks import Task

_FRAME = Words(
    {
        "sort": gettext_noop("type of session"),
        "school": gettext_noop("school"),
        "daily_for_life": gettext_noop("daily, long-term"),
        "wording": gettext_noop("wording"),
    }
)


#: Fields whose name in the document differs.
_FIELDS = {"or": "alternative"}


def clash_words(
    change: Change, document: dict[str, Any], *, tasks: Any, who: str, spelling: Spelling
) -> str:
    """Return the sentence with the user, the change and its place."""
    match change:
        case PutItem():
            # A removed item is described by what it was.
            return gettext(
                "{who} removed “{name}” from the session while you were editing."
            ).format(who=who, name=_name(change.item, tasks))
        case TakeItem():
            return gettext(
                "{who} removed that task from the session while you were editing."
            ).format(who=who)
        case ShiftItem():
            named = _item_name(change.item, document, tasks)
            return gettext("{who} moved {named} while you were editing.").format(
                who=who, named=named
            )
    value = change.value if isinstance(change, SetValue) else None
    what, value = _place_and_value(change.place, value, document, tasks, spelling)
    return gettext("{who} changed {what} to {value} while you were editing.").format(
        who=who, what=what, value=value
    )


def _item_name(id: str, document: dict[str, Any], tasks: dict[str, Task]) -> str:
    for number, item in enumerate(document["items"], 1):
        if item["id"] == id:
            return gettext("task {number}, “{name}”,").format(
                number=number, name=_name(item, tasks)
            )
    return gettext("a task")


def _name(item: dict[str, Any], tasks: dict[str, Task]) -> str:
    return tasks[item["task"]].name if item["task"] in tasks else item["task"]


def _place_and_value(
    place: tuple[str, ...], value: Any, document: Any, tasks: Any, spelling: Spelling
) -> tuple[str, str]:
    if place[0] == "items":
        item, name = place[1], place[-1]
        if name == "notes" and value:
            value = " ".join(Note(midi).name(spelling) for midi in value)
        words = PLAIN.get(_FIELDS.get(name, name)) or LIMIT_NAMES.get(name) or name
        return gettext("{words} of {named}").format(
            words=words, named=_item_name(item, document, tasks)
        ), display_value(value)
    named = _FRAME.get(place[-1]) or DOSE.get(place[-1]) or ANSWERS.get(place[-1])
    if place == ("practice", "medication"):
        named = str(MEDICATION)
    if place[0] == "overrules":
        named = gettext("the reason for accepting a finding")
    return named or "the " + " ".join(place), display_value(value)
