"""What one version changed of the one before, in lines that can be read."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from typing import TYPE_CHECKING, Any

from django.utils.formats import date_format

from reedcore.catalogue.settings import ladders_of
from reedcore.pitch import Note, Spelling
from web.programmes.wording import DOSE_KINDS, FEEDBACK, SCHOOLS, SORTS, WEEKDAYS, WORDINGS

from .presenters import target_words

if TYPE_CHECKING:
    from reedcore.catalogue.tasks import Task

PLAIN = {
    "sets": "sets",
    "counts": "seconds counted",
    "floor": "floor",
    "ceiling": "ceiling",
    "reason": "reason",
    "short": "short day",
    "sip": "sip",
    "feedback": "feedback",
    "sound": "sound",
    "row": "row of targets",
    "rungs": "individual steps",
    "or": "alternative task",
    "lines": "lines",
    "cue": "breath cue",
    "cues": "halfway and last-seconds cues",
    "ladder": "step by",
    "words": "instructions for the client",
    "say_before": "said before each trial",
    "picture": "picture",
    "pattern": "pattern",
    "strand": "session",
}
#: Of the steadiness limits, as they are set and as they are compared.
LIMIT_NAMES = {
    "spread_cents": "pitch spread at most, cents",
    "level_spread_db": "level spread at most, dB",
    "end_fall_db": "fall at the end at most, dB",
}
ANSWERS = {
    "tired": "tired or dry today",
    "hoarse": "hoarse today",
    "ill": "ill today",
    "medication": "asks for hours since medication",
}
SESSION = {
    "sort": ("sort", SORTS),
    "school": ("school", SCHOOLS),
    "daily_for_life": ("daily, long-term", {}),
    "wording": ("wording", WORDINGS),
}
DOSE = {
    "a_day": "sessions a day",
    "weekdays": "days",
    "weeks": "weeks",
    "start": "start",
    "kind": "kind of dose",
    "off": "excluded dates",
    "trigger": "trigger",
    "times": "times of day",
}


def differences(before: dict, after: dict, *, tasks: Any, spelling: Spelling) -> list[str]:
    """One line a change; an item is the same one while it keeps its id."""
    old = {item["id"]: item for item in before.get("items", [])}
    new = {item["id"]: item for item in after.get("items", [])}

    def name(item: Any) -> Any:
        return tasks[item["task"]].name if item["task"] in tasks else item["task"]

    lines = [f"removed: {name(item)}" for key, item in old.items() if key not in new]
    lines += [f"added: {name(item)}" for key, item in new.items() if key not in old]
    for key, item in new.items():
        if key in old:
            lines += [
                f"{name(item)}: {words}" for words in _of_item(old[key], item, tasks, spelling)
            ]
    kept_old = [key for key in old if key in new]
    kept_new = [key for key in new if key in old]
    if kept_old != kept_new:
        lines.append("the order was changed")
    for field, (words, named) in SESSION.items():
        was, now = before.get(field), after.get(field)
        if before and was != now:
            lines.append(f"{words}: {named.get(was, shown(was))} → {named.get(now, shown(now))}")
    lines += _of_dose(before.get("dose", {}), after.get("dose", {}))
    lines += _beside(before.get("beside", {}), after.get("beside", {}))
    for field, words in ANSWERS.items():
        was, now = (each.get("practice", {}).get(field) for each in (before, after))
        if before.get("practice") and was != now:
            lines.append(f"{words}: {shown(was)} → {shown(now)}")
    return lines


def _of_dose(before: dict[str, Any], after: dict[str, Any]) -> Iterator[str]:
    for field, words in DOSE.items():
        was, now = before.get(field), after.get(field)
        if before and was != now:
            yield f"{words}: {_in_dose(field, was)} → {_in_dose(field, now)}"


def _in_dose(field: str, value: Any) -> str:
    """A part of a dose as it is read."""
    if field == "weekdays":
        return ", ".join(WEEKDAYS[day] for day in value or ()) or "none"
    if field == "kind":
        return DOSE_KINDS.get(value, shown(value))
    if field in ("start", "off"):
        days = [value] if isinstance(value, str) else value or ()
        return ", ".join(date_format(date.fromisoformat(day), "j F Y") for day in days) or "none"
    return shown(value)


def _beside(before: dict[Any, Any], after: dict[Any, Any]) -> Iterator[Any]:
    """What came to stand beside the programme, went, or changed."""
    for id, strand in after.items():
        name = strand.get("name") or SORTS[strand["sort"]]
        if id not in before:
            yield f"also in force: {name}"
            continue
        for line in _of_dose(before[id]["dose"], strand["dose"]):
            yield f"{name}, {line}"
    for id, strand in before.items():
        if id not in after:
            yield f"no longer in force: {strand.get('name') or SORTS[strand['sort']]}"


def _of_item(
    was: dict[str, Any], now: dict[str, Any], tasks: dict[str, Task], spelling: Spelling
) -> Iterator[str]:
    task = tasks.get(now["task"])
    if task and was["params"] != now["params"]:
        yield f"{target_words(was, task)} → {target_words(now, task)}"
    if was["notes"] != now["notes"]:
        named = [
            " ".join(Note(m).name(spelling) for m in each["notes"]) or "any" for each in (was, now)
        ]
        yield f"notes {named[0]} → {named[1]}"
    for name, words in LIMIT_NAMES.items():
        limits = [each.get("limits", {}).get(name) for each in (was, now)]
        if limits[0] != limits[1]:
            yield f"{words}: {shown(limits[0])} → {shown(limits[1])}"
    for field, words in PLAIN.items():
        if was.get(field) != now.get(field):
            values = (_of_field(field, each.get(field), task, tasks) for each in (was, now))
            yield f"{words}: {' → '.join(values)}"


def _of_field(field: str, value: Any, task: Any, tasks: Any) -> str:
    """A field of an item by the name it has on its panel."""
    if field == "feedback":
        return FEEDBACK.get(value, shown(value))
    if field == "ladder" and task and value in ladders_of(task):
        return ladders_of(task)[value].name
    if field == "or" and value in tasks:
        return tasks[value].name
    if field == "picture":
        return "one of the clinic’s" if value else "none"
    return shown(value)


def shown(value: Any) -> str:
    """A value as a line of changes has it."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, dict):
        return "; ".join(f"{name} {shown(each)}" for name, each in value.items()) or "none"
    if isinstance(value, list):
        return ", ".join(str(each) for each in value) or "none"
    if isinstance(value, float):
        return f"{value:g}"
    return "none" if value in (None, "") else str(value)
