"""A programme as a document: edited by the composer, stored by versions, exchanged as files.

Cleaning never guesses: what does not fit is left as a problem with its place, and the rest stands.
"""

import json
from collections.abc import Iterator, Mapping
from copy import deepcopy
from dataclasses import dataclass, field, replace
from datetime import date
from functools import lru_cache
from itertools import islice
from typing import Any

import jsonschema

from reedcore.catalogue.ages import ADULT
from reedcore.catalogue.settings import allowed_codes, ladders_of, numbers_of
from reedcore.catalogue.tasks import Task
from reedcore.dose import Dose, DoseKind
from reedcore.errors import Refusal
from reedcore.measures import kind_of
from reedcore.targets.proposing import END_FALL_DB

from .document_schema import ITEM, MOST_ITEMS, MOST_NAMES, MOST_PROBLEMS, PROGRAMME
from .document_values import ITEM_NAMES, doses_from, item_document
from .programme import Item, Programme


@dataclass(frozen=True)
class Problem:
    """A problem of a document and its place.

    Attributes:
        item: counts from 1; None for the whole.
        code: not_a_programme, too_many_items, does_not_fit, too_few_entries,
            too_many_entries, text_too_long, too_low, too_high, too_many_names, same_id,
            no_such_dose, too_many_a_day, no_such_task, no_such_setting, not_a_number or outside.
        facts: the figures and names of its sentence.
    """

    item: int | None
    code: str
    facts: dict[str, Any] = field(default_factory=dict)


def empty_programme(today: date, wording: str = ADULT) -> Programme:
    """Return an empty programme with the usual dose."""
    return Programme(Dose(DoseKind.SLOTS, today), wording=wording)


def new_item(task: Task, *, id: str) -> Item:
    """Return an item at the task's own defaults."""
    # Strong holds must not trail off.
    keeps_up = task.is_loud and kind_of(task.measure).can_be_steady
    return Item(
        id=id,
        task=task.code,
        params={name: each.default for name, each in task.parameters.items()},
        sound=task.sound,
        limits={"end_fall_db": END_FALL_DB} if keeps_up else {},
        reason=task.purpose,
        sip=task.is_loud,
        cue=task.breath_cue,
        contrast=task.contrast,
        cues=bool(task.cues),
    )


def clean_document(raw: Any, *, tasks: Mapping[str, Task]) -> tuple[dict[str, Any], list[Problem]]:
    """Return the valid part of a document, and a problem for each invalid part.

    An item with a problem is left out: half of it would be another exercise.
    """
    if not isinstance(raw, dict) or len(raw) > MOST_NAMES:
        return {}, [Problem(None, "not_a_programme")]
    items = raw.get("items")
    if isinstance(items, list) and len(items) > MOST_ITEMS:
        facts = {"items": len(items), "most": MOST_ITEMS}
        return {}, [Problem(None, "too_many_items", facts)]
    frame = {**raw, "items": []} if isinstance(items, list) else raw
    errors = islice(_FRAME.iter_errors(frame), MOST_PROBLEMS)
    problems = [_misfit(error) for error in errors]
    if problems:
        return {}, problems
    bad = set()
    for number, item in enumerate(raw["items"]):
        if isinstance(item, dict) and len(item) > MOST_NAMES:
            bad.add(number)
            problems.append(Problem(number + 1, "too_many_names"))
            continue
        for problem in _misfits(json.dumps(item, sort_keys=True)):
            bad.add(number)
            problems.append(replace(problem, item=number + 1))
    document = deepcopy(raw)
    kept, ids = [], set()
    for number, item in enumerate(document["items"]):
        found = [] if number in bad else [*_item_problems(item, tasks)]
        strand = item.get("strand") if number not in bad else ""
        if strand and strand not in document.get("beside", {}):
            found.append(("no_such_setting", {"name": strand, "task": item["task"]}))
        if number not in bad and item["id"] in ids:
            found.append(("same_id", {}))
        problems += [Problem(number + 1, code, facts) for code, facts in found]
        if number not in bad and not found:
            ids.add(item["id"])
            is_whole = item.keys() >= ITEM_NAMES
            usual = {} if is_whole else _defaults(tasks[item["task"]], item["id"])
            older = {} if "words_replace" in item else {"words_replace": bool(item.get("words"))}
            kept.append({**usual, **item, **older})
    document["items"] = kept
    try:
        doses_from(document["dose"], document.get("beside", {}))
    except Refusal as refusal:
        many = refusal.facts.get("what") == "sessions a day"
        return {}, [*problems, Problem(None, "too_many_a_day" if many else "no_such_dose")]
    except ValueError:
        return {}, [*problems, Problem(None, "no_such_dose")]
    return document, sorted(problems, key=lambda problem: problem.item or 0)


#: Rules of the schema that are a limit, with the code of the problem.
_LIMITS = {
    "minItems": "too_few_entries",
    "maxItems": "too_many_entries",
    "maxLength": "text_too_long",
    "minimum": "too_low",
    "exclusiveMinimum": "too_low",
    "maximum": "too_high",
}
_FORMATS = jsonschema.FormatChecker()
_FRAME = jsonschema.Draft202012Validator(PROGRAMME, format_checker=_FORMATS)
_ITEM = jsonschema.Draft202012Validator(ITEM, format_checker=_FORMATS)


@lru_cache(maxsize=4096)
def _misfits(item: str) -> tuple[Problem, ...]:
    """Return how an item's JSON departs from the schema; an edit leaves all items but one as they
    were."""
    return tuple(_misfit(error) for error in islice(_ITEM.iter_errors(json.loads(item)), 20))


def _defaults(task: Task, id: str) -> dict[str, Any]:
    return item_document(new_item(task, id=id))


def _misfit(error: jsonschema.ValidationError) -> Problem:
    """Return the place, and the limit that was passed.

    Where the schema's rule has no code of its own, the validator's words stand in, shortened: they
    repeat a value that may be hostile.
    """
    where = " ".join(str(part) for part in error.absolute_path)
    if code := _LIMITS.get(error.validator):
        return Problem(None, code, {"where": where, "limit": error.validator_value})
    return Problem(None, "does_not_fit", {"where": where, "message": error.message[:160]})


def _item_problems(
    item: dict[str, Any], tasks: Mapping[str, Task]
) -> Iterator[tuple[str, dict[str, Any]]]:
    task = tasks.get(item["task"])
    if task is None:
        yield "no_such_task", {"task": item["task"]}
        return
    numbers, words = numbers_of(task), allowed_codes(task)
    for name, value in item.get("params", {}).items():
        parameter = numbers.get(name)
        if parameter is None or (isinstance(value, str) and name in words):
            if value not in words.get(name, ()):
                yield "no_such_setting", {"name": name, "task": task.name}
        elif isinstance(value, str):
            yield "not_a_number", {"name": name, "value": value[:40]}
        elif not parameter.lowest <= value <= parameter.highest:
            yield (
                "outside",
                {
                    "name": name,
                    "value": value,
                    "lowest": parameter.lowest,
                    "highest": parameter.highest,
                    "unit": parameter.unit,
                },
            )
    other = item.get("or", "")
    if other and other not in tasks:
        yield "no_such_task", {"task": other}
    if item.get("ladder") and item["ladder"] not in ladders_of(task):
        yield "no_such_setting", {"name": item["ladder"], "task": task.name}
