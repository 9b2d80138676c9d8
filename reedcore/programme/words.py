"""Instructions for the client about an item: the task's words, the words of each setting, and the
clinician's own words after them or in their place. Player, handout and mails ask here."""

from collections.abc import Container, Mapping
from typing import Any

from reedcore.catalogue.ages import ADULT
from reedcore.catalogue.settings import choices_of, ladders_of
from reedcore.catalogue.tasks import Task
from reedcore.translation import translate

from .programme import Item

#: No breath inside a trial.
NONE = "none"
#: Choices of a task with sides for one of them alone.
ONE_SIDE = ("left", "right")


def breath_inside(item: Item, task: Task) -> str:
    """Return whether a breath is required, allowed or excluded within a try."""
    return str(item.params.get("breath_inside", "")) or task.breath_inside


def client_lines(item: Item, task: Task, wording: str = ADULT) -> tuple[str, ...]:
    """Return the instruction line by line for the item's rungs and choices; in the words for the
    client's age, if the task has them."""
    own = item.words if item.words_replace else ()
    set_here = item.params
    params = {**task.choice, **set_here}
    ladders, choices = ladders_of(task), choices_of(task)
    # A choice changes what is done (one side instead of both), so its lines come before the words
    # for an age. A rung only makes the same thing harder.
    chosen = {each.changes for each in choices.values()}
    worded = own or (
        () if _rung_lines(task, params, chosen) else tuple(task.client_for.get(wording, ()))
    )
    lines = worded or _rung_lines(task, params) or task.client
    texts = []
    for each in (*ladders.values(), *choices.values()):
        value = params.get(each.changes)
        in_lines = not worded and value in task.client_at.get(each.changes, {})
        # The first rung needs no words, and neither do settings that the clinician's own words
        # replace.
        says = each.changes in set_here or (not own and each.code not in ladders)
        if isinstance(value, str) and says and not in_lines:
            texts.append(each.client_words(value))
    if side_s := params.get("stretch_s"):
        stay = _stay_words(side_s, is_one_side=params.get("side") in ONE_SIDE)
        if not set(task.stay).intersection(lines):
            texts.append(stay)
        lines = tuple(stay if line in task.stay else line for line in lines)
    if held := params.get("held"):
        texts.append(translate("Stay for {counts:g} between in and out.").format(counts=held))
    beside = () if own else item.words
    return (*lines, *dict.fromkeys(words for words in texts if words), *beside)


def _stay_words(seconds: float, *, is_one_side: bool) -> str:
    if is_one_side:
        return translate("Stay for {seconds:g} seconds.").format(seconds=seconds)
    return translate("Stay for {seconds:g} seconds on each side.").format(seconds=seconds)


def _rung_lines(
    task: Task, params: Mapping[str, Any], names: Container[str] | None = None
) -> tuple[str, ...]:
    """Return the task's own lines for its current rung or choice, among these settings only."""
    for name, by_rung in task.client_at.items():
        if names is not None and name not in names:
            continue
        if lines := by_rung.get(params.get(name, "")):
            return tuple(lines)
    return ()
