"""Differences between two versions of a programme in readable lines."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import asdict
from datetime import date
from typing import TYPE_CHECKING, Any

from django.utils.formats import date_format
from django.utils.translation import gettext, gettext_lazy

from reedcore.catalogue.settings import ladders_of
from reedcore.dose.today import Voice
from reedcore.pitch import Note, Spelling
from reedcore.programme.programme import BesideProgramme, Item, ItemPattern, Programme
from web.programmes.wording import DOSE_KINDS, FEEDBACK, SCHOOLS, SORTS, WEEKDAYS, WORDINGS
from web.ui.marked import Words, gettext_noop

from .presenters import target_words

if TYPE_CHECKING:
    from reedcore.catalogue.tasks import Task
    from reedcore.dose import Dose

PLAIN = Words(
    {
        "sets": gettext_noop("sets"),
        "counts": gettext_noop("seconds counted"),
        "floor": gettext_noop("floor"),
        "ceiling": gettext_noop("ceiling"),
        "reason": gettext_noop("reason"),
        "short": gettext_noop("short day"),
        "sip": gettext_noop("sip"),
        "feedback": gettext_noop("feedback"),
        "sound": gettext_noop("sound"),
        "row": gettext_noop("row of targets"),
        "rungs": gettext_noop("individual steps"),
        "alternative": gettext_noop("alternative task"),
        "lines": gettext_noop("lines"),
        "cue": gettext_noop("breath cue"),
        "cues": gettext_noop("halfway and last-seconds cues"),
        "words_replace": gettext_noop("own instructions replace the task’s"),
        "ladder": gettext_noop("step by"),
        "words": gettext_noop("instructions for the client"),
        "say_before": gettext_noop("said before each trial"),
        "picture": gettext_noop("picture"),
        "pattern": gettext_noop("pattern"),
        "strand": gettext_noop("session"),
    }
)
#: Names of the steadiness limits in the panel and in comparisons.
LIMIT_NAMES = Words(
    {
        "spread_cents": gettext_noop("pitch spread at most, cents"),
        "level_spread_db": gettext_noop("level spread at most, dB"),
        "end_fall_db": gettext_noop("fall at the end at most, dB"),
    }
)
ANSWERS = Words(
    {
        "tired": gettext_noop("tired or dry today"),
        "hoarse": gettext_noop("hoarse today"),
        "ill": gettext_noop("ill today"),
    }
)
MEDICATION = gettext_lazy("asks for hours since medication")
SESSION = Words(
    {
        "sort": (gettext_noop("type of session"), SORTS),
        "school": (gettext_noop("school"), SCHOOLS),
        "daily_for_life": (gettext_noop("daily, long-term"), {}),
        "wording": (gettext_noop("wording"), WORDINGS),
    }
)
DOSE = Words(
    {
        "a_day": gettext_noop("sessions a day"),
        "weekdays": gettext_noop("days"),
        "weeks": gettext_noop("weeks"),
        "start": gettext_noop("start"),
        "kind": gettext_noop("kind of dose"),
        "off": gettext_noop("excluded dates"),
        "trigger": gettext_noop("trigger"),
        "times": gettext_noop("times of day"),
    }
)


def differences(
    before: Programme | None, after: Programme | None, *, tasks: Any, spelling: Spelling
) -> list[str]:
    """Return one line a change; an item is the same one while it keeps its id."""
    old, new = ({item.id: item for item in each.items} if each else {} for each in (before, after))

    def name(item: Item) -> str:
        return tasks[item.task].name if item.task in tasks else item.task

    lines = [
        gettext("removed: {item}").format(item=name(item))
        for key, item in old.items()
        if key not in new
    ]
    lines += [
        gettext("added: {item}").format(item=name(item))
        for key, item in new.items()
        if key not in old
    ]
    for key, item in new.items():
        if key in old:
            lines += [
                f"{name(item)}: {words}" for words in _item_changes(old[key], item, tasks, spelling)
            ]
    kept_old = [key for key in old if key in new]
    kept_new = [key for key in new if key in old]
    if kept_old != kept_new:
        lines.append(gettext("the order was changed"))
    if before is None or after is None:
        besides = [each.beside if each else {} for each in (before, after)]
        return [*lines, *_beside_changes(*besides)]
    for field, (words, named) in SESSION.items():
        was, now = getattr(before, field), getattr(after, field)
        if was != now:
            shown = [named.get(each, display_value(each)) for each in (was, now)]
            lines.append(f"{words}: {shown[0]} → {shown[1]}")
    lines += _dose_changes(before.dose, after.dose)
    lines += _beside_changes(before.beside, after.beside)
    return [*lines, *_answer_changes(before, after)]


def _answer_changes(before: Programme, after: Programme) -> Iterator[str]:
    for voice, words in ANSWERS.items():
        was, now = (each.answers[Voice(voice)].value for each in (before, after))
        if was != now:
            yield f"{words}: {display_value(was)} → {display_value(now)}"
    if before.asks_medication != after.asks_medication:
        was, now = (display_value(each.asks_medication) for each in (before, after))
        yield f"{MEDICATION}: {was} → {now}"


def _dose_changes(before: Dose, after: Dose) -> Iterator[str]:
    for field, words in DOSE.items():
        was, now = getattr(before, field), getattr(after, field)
        if was != now:
            yield f"{words}: {_dose_value(field, was)} → {_dose_value(field, now)}"


def _dose_value(field: str, value: Any) -> str:
    """Return a part of a dose as it is read."""
    if field == "weekdays":
        return ", ".join(WEEKDAYS[day] for day in value or ()) or "none"
    if field == "kind":
        return DOSE_KINDS.get(value, display_value(value))
    if field in ("start", "off"):
        days = [value] if isinstance(value, date) else value
        return ", ".join(date_format(day, "j F Y") for day in days) or "none"
    if field == "times":
        return ", ".join(f"{each:%H:%M}" for each in value) or "none"
    return display_value(value)


def _beside_changes(
    before: Mapping[str, BesideProgramme], after: Mapping[str, BesideProgramme]
) -> Iterator[str]:
    """Yield programmes that were added beside the main one, removed, or changed."""
    for id, strand in after.items():
        name = strand.name or SORTS[strand.sort]
        if id not in before:
            yield gettext("also in force: {name}").format(name=name)
            continue
        for line in _dose_changes(before[id].dose, strand.dose):
            yield f"{name}, {line}"
    for id, strand in before.items():
        if id not in after:
            yield gettext("no longer in force: {value}").format(
                value=strand.name or SORTS[strand.sort]
            )


def _item_changes(
    was: Item, now: Item, tasks: dict[str, Task], spelling: Spelling
) -> Iterator[str]:
    task = tasks.get(now.task)
    if task and was.params != now.params:
        yield f"{target_words(was, task)} → {target_words(now, task)}"
    if was.notes != now.notes:
        named = [
            " ".join(Note(m).name(spelling) for m in each.notes) or "any" for each in (was, now)
        ]
        yield gettext("notes {value} → {value_2}").format(value=named[0], value_2=named[1])
    for name, words in LIMIT_NAMES.items():
        limits = [each.limits.get(name) for each in (was, now)]
        if limits[0] != limits[1]:
            yield f"{words}: {display_value(limits[0])} → {display_value(limits[1])}"
    for field, words in PLAIN.items():
        if getattr(was, field) != getattr(now, field):
            values = (
                _field_change(field, getattr(each, field), task, tasks) for each in (was, now)
            )
            yield f"{words}: {' → '.join(values)}"


def _field_change(field: str, value: Any, task: Any, tasks: Any) -> str:
    """Return a changed field of an item by its name on the panel."""
    if field == "feedback":
        return FEEDBACK.get(value, display_value(value))
    if field == "ladder" and task and value in ladders_of(task):
        return ladders_of(task)[value].name
    if field == "alternative" and value in tasks:
        return tasks[value].name
    if field == "picture":
        return gettext("one of the clinic’s") if value else "none"
    return display_value(value)


def display_value(value: Any) -> str:
    """Return a value as a line of changes has it."""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, ItemPattern):
        value = {name: each for name, each in asdict(value).items() if each not in ("", None, ())}
    if isinstance(value, Mapping):
        return "; ".join(f"{name} {display_value(each)}" for name, each in value.items()) or "none"
    if isinstance(value, list | tuple):
        return ", ".join(str(each) for each in value) or "none"
    if isinstance(value, float):
        return f"{value:g}"
    return "none" if value in (None, "") else str(value)
