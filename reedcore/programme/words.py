"""What the client is told of an item: in the clinician's own words where there are any, else in the
task's, and how each setting changes them. Player, handout and mails ask here."""

from collections.abc import Mapping
from typing import Any

from reedcore.catalogue.ages import ADULT
from reedcore.catalogue.settings import choices_of, ladders_of
from reedcore.catalogue.tasks import Task
from reedcore.translation import translate

from .programme import Item

#: No breath inside a trial.
NONE = "none"


def breath_inside(item: Item, task: Task) -> str:
    """Return whether a breath may or must be taken within a try: none, allowed or required."""
    return str(item.params.get("breath_inside", "")) or task.breath_inside


def client_lines(item: Item, task: Task, wording: str = ADULT) -> tuple[str, ...]:
    """The instruction, line by line, as it stands on the item's rungs and choices; in the words for
    those of that age, where the task has some."""
    own = item.words
    worded = own or tuple(task.client_for.get(wording, ()))
    set_here = item.params
    params = {**task.choice, **set_here}
    lines = worded or _rung_lines(task, params) or task.client
    told = []
    ladders = ladders_of(task)
    for each in (*ladders.values(), *choices_of(task).values()):
        value = params.get(each.changes)
        in_lines = not worded and value in task.client_at.get(each.changes, {})
        # The first rung needs no words, and neither do settings that the clinician's own words
        # replace.
        says = each.changes in set_here or (not own and each.code not in ladders)
        if isinstance(value, str) and says and not in_lines:
            told.append(each.client_words(value))
    if side_s := params.get("stretch_s"):
        told.append(translate("Stay for {seconds:g} seconds on each side.").format(seconds=side_s))
    if held := params.get("held"):
        told.append(translate("Stay for {counts:g} between in and out.").format(counts=held))
    return (*lines, *dict.fromkeys(words for words in told if words))


def _rung_lines(task: Task, params: Mapping[str, Any]) -> tuple[str, ...]:
    """The task's own lines for the rung it stands on."""
    for name, by_rung in task.client_at.items():
        if lines := by_rung.get(params.get(name, "")):
            return tuple(lines)
    return ()
