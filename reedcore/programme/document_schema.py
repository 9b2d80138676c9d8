"""The format of a programme's document: its fields, limits and JSON Schema."""

from __future__ import annotations

from reedcore.catalogue.ages import WORDINGS
from reedcore.checks.plan import ProgrammeType
from reedcore.dose import DoseKind
from reedcore.dose.slots import MOST_ON_DEMAND
from reedcore.dose.today import Day, Voice
from reedcore.pitch.notes import HIGHEST_MIDI, LOWEST_MIDI

from .strands import MOST_BESIDE

#: A file with more items is rejected as a whole.
MOST_ITEMS = 60
#: Maximum bytes of a programme: sixty items with forty lines each, and their state before a taper.
LARGEST_PROGRAMME = 2 * 1024 * 1024
#: Maximum keys of an object; validating more would take seconds.
MOST_NAMES = 40
#: Maximum number of problems reported.
MOST_PROBLEMS = 200
FORMAT = "still-reed-programme"
VERSION = 1
SORTS = tuple(each.value for each in ProgrammeType)
SCHOOLS = ("soft", "loud", "mixed")
FEEDBACK = ("live", "trial", "block", "none")
#: Steadiness limits of a hold, with their maximum.
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
        # The programme beside the main one that it belongs to.
        "strand": {"type": "string", "pattern": "^[a-z0-9-]{0,20}$"},
        "short": {"type": "boolean"},
        "sip": {"type": "boolean"},
        "cue": {"type": "boolean"},
        "contrast": {"type": "boolean"},
        # Its ladder, if it differs from its task's.
        "ladder": {"type": "string", "maxLength": 40},
        # The clinician's own instruction for this client, and the text before each trial.
        "words": {"type": "array", "items": {"type": "string", "maxLength": 160}, "maxItems": 3},
        "say_before": {"type": "string", "maxLength": 80},
        # Id of a picture to describe.
        "picture": {"type": ["integer", "null"], "minimum": 1},
        # Pattern: degrees group by group, and the note limits.
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
        "words_replace": {"type": "boolean"},
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
        # Times of the day's sessions, as agreed with the client.
        "times": {
            "type": "array",
            "items": {"type": "string", "pattern": "^([01][0-9]|2[0-3]):[0-5][0-9]$"},
            "maxItems": 5,
        },
    },
    "required": ["kind", "start", "a_day", "weekdays", "weeks"],
    "additionalProperties": False,
}
#: “How is your voice today?”: consequence of each answer, and the medication question.
PRACTICE = {
    "type": "object",
    "properties": {
        **{voice.value: {"enum": [day.value for day in Day]} for voice in Voice},
        "medication": {"type": "boolean"},
    },
    "additionalProperties": False,
}
#: Week of the taper, and the programme before it.
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
        # Reader of the instructions; adults by default.
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
