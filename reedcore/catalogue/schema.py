"""The format of a task as a JSON Schema, for shipped tasks and a clinic's own."""

from reedcore.safety import Hazard

from .ages import ADULT, WORDINGS

FAMILIES = {
    "release": "Release and posture",
    "breath": "Breath",
    "occluded": "Semi-occluded voicing",
    "onset": "Onset and resonance",
    "block": "Vocal function block",
    "range": "Range and speaking pitch",
    "loud": "Loudness and effort",
    "articulation": "Articulation",
    "cooldown": "Cool-down and aftercare",
}
MEASURES = (
    "hold", "hiss", "compound", "glide", "pattern", "counted", "reps", "timed", "script", "count",
    "checklist",
)  # fmt: skip
_LINE = {"type": "string", "minLength": 1, "maxLength": 120}
_WORDS = {"type": "array", "items": _LINE}
_HAZARDS = {"type": "array", "items": {"enum": [hazard.value for hazard in Hazard]}}
PARAMETER = {
    "type": "object",
    "properties": {
        "unit": {"type": "string"},
        "default": {"type": "number"},
        "from": {"type": "number"},
        "to": {"type": "number"},
    },
    "required": ["unit", "default", "from", "to"],
    "additionalProperties": False,
}
#: Direction of a glide, or the rhythm, if the measure does not imply it.
SHAPES = (
    "up", "down", "up_and_down", "pulses", "bursts_then_long", "air_then_voice", "on_the_beat",
)  # fmt: skip
TASK = {
    "type": "object",
    "properties": {
        "code": {"type": "string", "pattern": "^[a-z0-9_]{2,40}$"},
        "name": _LINE,
        "purpose": _LINE,
        "client": {"type": "array", "items": _LINE, "minItems": 1, "maxItems": 3},
        "measure": {"enum": list(MEASURES)},
        "sound": _LINE,
        # The shape and sound, if the task is such a pair.
        "pair": {"type": "array", "items": {"type": "string"}, "minItems": 2, "maxItems": 2},
        "parameters": {"type": "object", "additionalProperties": PARAMETER, "minProperties": 1},
        # A pair that the task resembles.
        "like": {"type": "array", "items": {"type": "string"}, "minItems": 2, "maxItems": 2},
        "ladder": {"type": "string"},
        # Default choices.
        "choice": {"type": "object", "additionalProperties": {"type": "string"}},
        # Client lines by ladder parameter and rung.
        "client_at": {
            "type": "object",
            "additionalProperties": {"type": "object", "additionalProperties": _WORDS},
        },
        # Client lines about the duration of a stretch: those that the prescribed seconds replace.
        "stay": _WORDS,
        # Client lines by wording (age).
        "client_for": {
            "type": "object",
            "properties": {
                wording: {**_WORDS, "minItems": 1, "maxItems": 3}
                for wording in WORDINGS
                if wording != ADULT
            },
            "additionalProperties": False,
        },
        "level": {"enum": ["even", "swell", "fade", "both"]},
        "breath_cue": {"type": "boolean"},
        "shape": {"enum": list(SHAPES)},
        "breath_inside": {"enum": ["none", "allowed", "required"]},
        "props": {"type": "array", "items": {"type": "string"}},
        "faults": {
            "type": "array",
            "items": {
                "type": "object",
                "properties": {"noticed": _LINE, "try": _LINE},
                "required": ["noticed", "try"],
                "additionalProperties": False,
            },
        },
        "felt": {
            "type": "object",
            "properties": {"ask": _LINE, "if_not": _LINE},
            "required": ["ask", "if_not"],
            "additionalProperties": False,
        },
        "cautions": {"type": "string", "maxLength": 200},
        "hazards": _HAZARDS,
        # Names in files of an earlier version.
        "marks": _HAZARDS,
        "substitutes": {"type": "array", "items": {"type": "string"}},
        "equals": {"type": "array", "items": {"type": "string"}},
        "drawing": {"type": "string"},
        "material": {"type": "string"},
        "notes": {"type": "integer", "minimum": 0, "maximum": 5},
        "note_set": {"enum": ["warm_up", "power"]},
        "tone": {"type": "boolean"},
        "voiced": {"type": "boolean"},
        "effort": {"type": "integer", "minimum": 1, "maximum": 10},
        "cues": _WORDS,
        "items": _WORDS,
        "degrees": {"type": "array", "items": {"type": "integer", "minimum": 1, "maximum": 9}},
        "growing": {"type": "boolean"},
        "last_puff": {"type": "boolean"},
        "contrast": {"type": "boolean"},
        "lower_is_better": {"type": "boolean"},
        "all_the_air": {"type": "boolean"},
    },
    "required": ["code", "name", "purpose", "client", "measure", "parameters"],
    "additionalProperties": False,
}
