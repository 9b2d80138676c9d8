"""A programme as a document: what the composer edits, versions keep, and files carry.

Cleaning never guesses: what does not fit is left as a problem with its place, and the rest stands.
"""

import json
from collections.abc import Iterator, Mapping
from copy import deepcopy
from dataclasses import dataclass, field
from datetime import date, time
from functools import lru_cache
from itertools import islice
from typing import Any

import jsonschema

from reedcore.catalogue.ages import ADULT, WORDINGS
from reedcore.catalogue.settings import ladders_of, numbers_of, words_allowed
from reedcore.catalogue.tasks import Task
from reedcore.checks.plan import SessionType
from reedcore.dose import Dose, DoseKind
from reedcore.dose.slots import MOST_ON_DEMAND
from reedcore.dose.today import USUAL_ANSWERS, Day, Voice
from reedcore.errors import Refusal
from reedcore.measures import kind_of
from reedcore.pitch.notes import HIGHEST_MIDI, LOWEST_MIDI
from reedcore.targets.proposing import END_FALL_DB

from .strands import MOST_BESIDE, strands_of

#: More is no programme; a file that holds more is refused whole.
MOST_ITEMS = 60
#: Bytes of a programme: sixty items with forty lines each, and what they were before a taper.
LARGEST_PROGRAMME = 2 * 1024 * 1024
#: No programme and no item names more things; to list what does not fit would take seconds.
MOST_NAMES = 40
#: So many problems say enough of a file.
MOST_PROBLEMS = 200
FORMAT = "still-reed-programme"
VERSION = 1
SORTS = tuple(each.value for each in SessionType)
SCHOOLS = ("soft", "loud", "mixed")
FEEDBACK = ("live", "trial", "block", "none")
#: The steadiness limits of a hold, with the most that each may be.
LIMITS = {"spread_cents": 200, "level_spread_db": 12, "end_fall_db": 20}
_TEXT = {"type": "string", "maxLength": 500}
_LEVEL = {"type": ["number", "null"], "minimum": -30, "maximum": 40}
_NOTE = {"type": ["integer", "null"], "minimum": LOWEST_MIDI, "maximum": HIGHEST_MIDI}
ITEM = {
    "type": "object",
    "properties": {
        "id": {"type": "string", "pattern": "^[A-Za-z0-9-]{1,40}$"},
        "task": {"type": "string", "maxLength": 40},
        "sets": {"type": "integer", "minimum": 1, "maximum": 10},
        "params": {
            "type": "object",
            "additionalProperties": {"type": ["number", "string"], "maxLength": 60},
            "maxProperties": 24,
        },
        "notes": {
            "type": "array",
            "items": {"type": "integer", "minimum": LOWEST_MIDI, "maximum": HIGHEST_MIDI},
            "maxItems": 8,
        },
        "sound": {"type": "string", "maxLength": 40},
        "counts": {"enum": ["total", "steady"]},
        "floor": _LEVEL,
        "ceiling": _LEVEL,
        "limits": {
            "type": "object",
            "properties": {
                name: {"type": ["number", "null"], "exclusiveMinimum": 0, "maximum": most}
                for name, most in LIMITS.items()
            },
            "additionalProperties": False,
        },
        "reason": _TEXT,
        "meant": _TEXT,
        "or": {"type": "string", "maxLength": 40},
        "row": {
            "type": "array",
            "items": {"type": "number", "exclusiveMinimum": 0, "maximum": 120},
            "maxItems": 6,
        },
        "rungs": {
            "type": "array",
            "items": {"type": "number", "exclusiveMinimum": 0, "maximum": 120},
            "maxItems": 60,
        },
        "lines": {"type": "array", "items": {"type": "string", "maxLength": 300}, "maxItems": 40},
        # which of the programmes beside the main one it belongs to
        "strand": {"type": "string", "pattern": "^[a-z0-9-]{0,20}$"},
        "short": {"type": "boolean"},
        "sip": {"type": "boolean"},
        "cue": {"type": "boolean"},
        "contrast": {"type": "boolean"},
        # the ladder that it climbs, where that is not its task's own
        "ladder": {"type": "string", "maxLength": 40},
        # an instruction for this client in the clinician's own words, and what is said before a try
        "words": {"type": "array", "items": {"type": "string", "maxLength": 160}, "maxItems": 3},
        "say_before": {"type": "string", "maxLength": 80},
        # the clinic's number of a picture to speak about
        "picture": {"type": ["integer", "null"], "minimum": 1},
        # of a pattern: its degrees group by group, and the notes that it does not pass
        "pattern": {
            "type": "object",
            "properties": {
                "groups": {
                    "type": "array",
                    "maxItems": 12,
                    "items": {
                        "type": "array",
                        "minItems": 1,
                        "maxItems": 40,
                        "items": {"type": "integer", "minimum": 1, "maximum": 9},
                    },
                },
                "floor": _NOTE,
                "ceiling": _NOTE,
                "bridge": _NOTE,
                "cue": {"type": "string", "maxLength": 80},
            },
            "additionalProperties": False,
        },
        "feedback": {"enum": list(FEEDBACK)},
        "cues": {"type": "boolean"},
    },
    "required": ["id", "task"],
    "additionalProperties": False,
}
DOSE = {
    "type": "object",
    "properties": {
        "kind": {"enum": [kind.value for kind in DoseKind]},
        "start": {"type": "string", "format": "date"},
        "a_day": {"type": "integer", "minimum": 1, "maximum": MOST_ON_DEMAND},
        "weekdays": {
            "type": "array",
            "items": {"type": "integer", "minimum": 0, "maximum": 6},
            "minItems": 1,
            "uniqueItems": True,
        },
        "weeks": {"type": "integer", "minimum": 1, "maximum": 52},
        "off": {"type": "array", "items": {"type": "string", "format": "date"}, "maxItems": 120},
        "trigger": {"type": "string", "maxLength": 120},
        # of each session of a day, as client and clinician chose
        "times": {
            "type": "array",
            "items": {"type": "string", "pattern": "^([01][0-9]|2[0-3]):[0-5][0-9]$"},
            "maxItems": 5,
        },
    },
    "required": ["kind", "start", "a_day", "weekdays", "weeks"],
    "additionalProperties": False,
}
#: What each answer to "how is your voice today?" leads to, and what else is asked.
PRACTICE = {
    "type": "object",
    "properties": {
        **{voice.value: {"enum": [day.value for day in Day]} for voice in Voice},
        "medication": {"type": "boolean"},
    },
    "additionalProperties": False,
}
#: Where in the taper a programme is, and what it was before.
TAPER = {
    "type": "object",
    "properties": {
        "week": {"type": "integer", "minimum": 1, "maximum": 7},
        "peak_s": {"type": "number", "exclusiveMinimum": 0, "maximum": 180},
        "since": {"type": "string", "format": "date"},
        "before": {
            "type": "object",
            "properties": {
                "items": {"type": "array", "items": ITEM, "maxItems": MOST_ITEMS},
                "dose": DOSE,
            },
            "required": ["items", "dose"],
            "additionalProperties": False,
        },
    },
    "required": ["week", "peak_s", "since", "before"],
    "additionalProperties": False,
}
PROGRAMME = {
    "$schema": "https://json-schema.org/draft/2020-12/schema",
    "title": "A programme of home voice exercise",
    "type": "object",
    "properties": {
        "format": {"const": FORMAT},
        "version": {"const": VERSION},
        "sort": {"enum": list(SORTS)},
        "school": {"enum": list(SCHOOLS)},
        "daily_for_life": {"type": "boolean"},
        # for whom the instructions are worded; for adults where nothing is said
        "wording": {"enum": list(WORDINGS)},
        "dose": DOSE,
        "practice": PRACTICE,
        "taper": TAPER,
        "beside": {
            "type": "object",
            "maxProperties": MOST_BESIDE,
            "propertyNames": {"pattern": "^[a-z0-9-]{1,20}$"},
            "additionalProperties": {
                "type": "object",
                "properties": {
                    "name": {"type": "string", "maxLength": 60},
                    "sort": {"enum": list(SORTS)},
                    "school": {"enum": list(SCHOOLS)},
                    "daily_for_life": {"type": "boolean"},
                    "dose": DOSE,
                },
                "required": ["sort", "dose"],
                "additionalProperties": False,
            },
        },
        "items": {"type": "array", "items": ITEM, "maxItems": MOST_ITEMS},
        "overrules": {"type": "object", "additionalProperties": _TEXT, "maxProperties": 400},
    },
    "required": ["dose", "items"],
    "additionalProperties": False,
}


@dataclass(frozen=True)
class Problem:
    """What does not fit, and where.

    Attributes:
        item: counts from 1; None for the whole.
        code: not_a_programme, too_many_items, does_not_fit, too_many_names, same_id, no_such_dose,
            too_many_a_day, no_such_task, no_such_setting, not_a_number or outside.
        facts: the figures and names of its sentence.
    """

    item: int | None
    code: str
    facts: dict[str, Any] = field(default_factory=dict)


def empty_document(today: date, wording: str = ADULT) -> dict[str, Any]:
    """Nothing prescribed yet, at the usual dose."""
    return {
        "format": FORMAT,
        "version": VERSION,
        "sort": "full",
        "school": "soft",
        "daily_for_life": False,
        "wording": wording,
        "dose": {
            "kind": DoseKind.SLOTS.value,
            "start": today.isoformat(),
            "a_day": 2,
            "weekdays": [0, 1, 2, 3, 4],
            "weeks": 6,
            "off": [],
        },
        "practice": {
            **{voice.value: day.value for voice, day in USUAL_ANSWERS.items()},
            "medication": False,
        },
        "items": [],
        "overrules": {},
    }


def new_item(task: Task, *, id: str, **given: Any) -> dict[str, Any]:
    """An item at the task's own defaults."""
    return {
        "id": id,
        "task": task.code,
        "sets": 1,
        "params": {name: each.default for name, each in task.parameters.items()},
        "notes": [],
        "sound": task.sound,
        "counts": "total",
        "floor": None,
        "ceiling": None,
        # strong holds are asked not to trail off
        "limits": {"end_fall_db": END_FALL_DB}
        if task.is_loud and kind_of(task.measure).steady
        else {},
        "reason": task.purpose,
        "meant": "",
        "or": "",
        "row": [],
        "rungs": [],
        "lines": [],
        "strand": "",
        "short": False,
        "sip": task.is_loud,
        "cue": task.breath_cue,
        "contrast": task.contrast,
        "ladder": "",
        "words": [],
        "say_before": "",
        "picture": None,
        "pattern": {},
        "feedback": "live",
        "cues": bool(task.cues),
        **given,
    }


def cleaned(raw: Any, *, tasks: Mapping[str, Task]) -> tuple[dict[str, Any], list[Problem]]:
    """The document with what fits, and a problem for each thing that does not.

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
    problems = [Problem(None, "does_not_fit", _misfit(error)) for error in errors]
    if problems:
        return {}, problems
    bad = set()
    for number, item in enumerate(raw["items"]):
        if isinstance(item, dict) and len(item) > MOST_NAMES:
            bad.add(number)
            problems.append(Problem(number + 1, "too_many_names"))
            continue
        for facts in _misfits(json.dumps(item, sort_keys=True)):
            bad.add(number)
            problems.append(Problem(number + 1, "does_not_fit", facts))
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
            kept.append({**new_item(tasks[item["task"]], id=item["id"]), **item})
    document["items"] = kept
    try:
        for each in strands_of(document):
            dose_of(each.document)
    except Refusal as refusal:
        many = refusal.facts.get("what") == "sessions a day"
        return {}, [*problems, Problem(None, "too_many_a_day" if many else "no_such_dose")]
    except ValueError:
        return {}, [*problems, Problem(None, "no_such_dose")]
    return document, sorted(problems, key=lambda problem: problem.item or 0)


_FORMATS = jsonschema.FormatChecker()
_FRAME = jsonschema.Draft202012Validator(PROGRAMME, format_checker=_FORMATS)
_ITEM = jsonschema.Draft202012Validator(ITEM, format_checker=_FORMATS)


@lru_cache(maxsize=4096)
def _misfits(item: str) -> tuple[dict[str, Any], ...]:
    """How an item's JSON departs from the schema; an edit leaves all items but one as they were."""
    return tuple(_misfit(error) for error in islice(_ITEM.iter_errors(json.loads(item)), 20))


def _misfit(error: jsonschema.ValidationError) -> dict[str, Any]:
    """The place and the validator's words, shortened: they repeat a value that may be hostile."""
    where = " ".join(str(part) for part in error.absolute_path)
    return {"where": where, "message": error.message[:160]}


def _item_problems(
    item: dict[str, Any], tasks: Mapping[str, Task]
) -> Iterator[tuple[str, dict[str, Any]]]:
    task = tasks.get(item["task"])
    if task is None:
        yield "no_such_task", {"task": item["task"]}
        return
    numbers, words = numbers_of(task), words_allowed(task)
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


def answers_of(document: dict[str, Any]) -> dict[Voice, Day]:
    """What each answer to "how is your voice today?" leads to."""
    said = document.get("practice", {})
    return {voice: Day(said.get(voice.value, usual)) for voice, usual in USUAL_ANSWERS.items()}


def dose_of(document: Mapping[str, Any]) -> Dose:
    """The dose as the core reckons with it.

    Raises:
        ValueError: a date that is none.
        reedcore.errors.ValueOutOfRange: no days, weeks or sessions that can be.
    """
    dose = document["dose"]
    return Dose(
        kind=DoseKind(dose["kind"]),
        start=date.fromisoformat(dose["start"]),
        a_day=dose["a_day"],
        weekdays=tuple(sorted(dose["weekdays"])),
        weeks=dose["weeks"],
        off=tuple(date.fromisoformat(day) for day in dose.get("off", ())),
        times=tuple(time.fromisoformat(each) for each in dose.get("times", ())),
    )
