"""What a programme's document looks like: its fields, limits and JSON Schema."""

from __future__ import annotations

from reedcore.catalogue.ages import WORDINGS
from reedcore.checks.plan import ProgrammeType
from reedcore.dose import DoseKind
from reedcore.dose.slots import MOST_ON_DEMAND
from reedcore.dose.today import Day, Voice
from reedcore.pitch.notes import HIGHEST_MIDI, LOWEST_MIDI

from .strands import MOST_BESIDE

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
SORTS = tuple(each.value for each in ProgrammeType)
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
