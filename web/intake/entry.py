"""Entries that a device sends about a session, each with a key, as a JSON Schema.

A device keeps an entry until its arrival is confirmed, and may send it any number of times.
"""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

import jsonschema

from reedcore.dose.today import Day, SessionType, Voice
from reedcore.safety import ASKABLE
from web.record.models import SelfReport, Session, Trial

#: Largest possible key or version number.
_NUMBER = {"type": "integer", "minimum": 1, "maximum": 2**31 - 1}
_KEY = {"type": "string", "format": "uuid", "maxLength": 40}
_AT = {"type": "string", "format": "date-time", "maxLength": 40}
_TEXT = {"type": "string", "maxLength": 500}
SESSION = {
    "type": "object",
    "properties": {
        "key": _KEY,
        "version": _NUMBER,
        "sort": {"enum": [each.value for each in SessionType]},
        "day": {"enum": [each.value for each in Day]},
        "voice": {"enum": ["", *(each.value for each in Voice)]},
        "begun_at": _AT,
        "planned": {"type": "integer", "minimum": 0, "maximum": 200},
        "hours_since_medication": {"type": ["number", "null"], "minimum": 0, "maximum": 72},
        "device": {"type": "string", "maxLength": 200},
        # The helper that the page knew when the session began; another person may send it.
        "helper": {**_NUMBER, "type": ["integer", "null"]},
    },
    "required": ["key", "version", "sort", "day", "begun_at"],
    "additionalProperties": False,
}
_TRY = {
    "task": _NUMBER,
    "role": {"enum": ["", "poor", "good"]},
    "set_s": {"type": ["number", "null"], "minimum": 0.5, "maximum": 90},
    # For a pattern, its round; for a start on the beat, the beat's place in the recording.
    "number": {"type": ["integer", "null"], "minimum": 1, "maximum": 60},
    "beat_s": {"type": ["number", "null"], "minimum": 0, "maximum": 300},
}
_FIGURES = {
    "type": "object",
    "properties": {
        "reps": {"type": "integer", "minimum": 0, "maximum": 500},
        "minutes": {"type": "number", "minimum": 0, "maximum": 180},
        "breaths": {"type": "integer", "minimum": 0, "maximum": 500},
        "count": {"type": "number", "minimum": 0, "maximum": 100000},
        "lines": {"type": "integer", "minimum": 0, "maximum": 500},
        "ticks": {"type": "array", "items": _TEXT, "maxItems": 40},
    },
    "minProperties": 1,
    "additionalProperties": False,
}
#: A client's reasons to set a trial aside; "counts" undoes it.
SET_ASIDE_REASONS = (
    Trial.SetAside.NOT_MY_VOICE,
    Trial.SetAside.STOPPED_EARLY,
    Trial.SetAside.COUNTED_LONG,
    "counts",
)
#: Allowed values of each kind of report.
_REPORTS = {
    SelfReport.Kind.EFFORT: {"type": "integer", "minimum": 1, "maximum": 10},
    SelfReport.Kind.CONCENTRATION: {"type": "integer", "minimum": 1, "maximum": 10},
    SelfReport.Kind.STRAIN: {
        "type": "object",
        "properties": {
            "said": {"type": "boolean"},
            "where": {"enum": ["", "throat", "jaw", "chest", "belly", "shoulders"]},
        },
        "required": ["said"],
        "additionalProperties": False,
    },
    SelfReport.Kind.FELT: {"enum": ["yes", "not_sure", "no"]},
    SelfReport.Kind.SKIPPED: {"enum": ["cant", "no_prop", "tired", "other"]},
    SelfReport.Kind.BREATH: {"enum": ["left", "just", "ran_out"]},
    SelfReport.Kind.DEPTH: {"type": "number", "minimum": 0, "maximum": 20},
    SelfReport.Kind.COMMENT: {"type": "string", "minLength": 1, "maxLength": 500},
    SelfReport.Kind.BOTHER: {"type": "integer", "minimum": 0, "maximum": 10},
    SelfReport.Kind.DEMANDS: {"enum": ["little", "usual", "much"]},
    SelfReport.Kind.ANSWERED_BY: {"enum": ["client", "helper"]},
    SelfReport.Kind.DISTANCE: {"enum": ["right", "changed"]},
    SelfReport.Kind.SET_ASIDE: {
        "type": "object",
        "properties": {"trial": _KEY, "why": {"enum": list(SET_ASIDE_REASONS)}},
        "required": ["trial", "why"],
        "additionalProperties": False,
    },
    SelfReport.Kind.MICROPHONE: {
        "type": "object",
        "properties": {
            "room_dbfs": {"type": "number", "minimum": -130, "maximum": 0},
            "voice_dbfs": {"type": "number", "minimum": -130, "maximum": 0},
            "clipped": {"type": "boolean"},
            "processed": {"type": "boolean"},
        },
        "required": ["room_dbfs", "voice_dbfs", "clipped", "processed"],
        "additionalProperties": False,
    },
    SelfReport.Kind.ANSWER: {
        "type": "object",
        "properties": {
            "message": _NUMBER,
            "words": {"type": "string", "minLength": 1, "maxLength": 500},
        },
        "required": ["message", "words"],
        "additionalProperties": False,
    },
}


def _kind(**properties: Any) -> Any:
    return {
        "type": "object",
        "properties": {"key": _KEY, "at": _AT, "session": SESSION, **properties},
        "required": ["key", "at", "session", "kind"],
        "additionalProperties": False,
    }


SCHEMAS = {
    "begun": _kind(kind={"const": "begun"}),
    "timed": _kind(
        kind={"const": "timed"}, seconds={"type": "number", "minimum": 0, "maximum": 86400}, **_TRY
    ) | {"required": ["key", "at", "session", "kind", "task", "seconds"]},
    "told": _kind(kind={"const": "told"}, figures=_FIGURES, **_TRY)
    | {"required": ["key", "at", "session", "kind", "task", "figures"]},
    "sound": _kind(
        kind={"const": "sound"},
        source={"enum": ["microphone", "simulated", "file"]},
        capture={"type": "object", "maxProperties": 8},
        **_TRY,
    )
    | {"required": ["key", "at", "session", "kind", "task", "source"]},
    "reference": _kind(
        kind={"const": "reference"},
        source={"enum": ["microphone", "simulated"]},
        capture={"type": "object", "maxProperties": 8},
    ),
    "mark": _kind(
        kind={"const": "mark"},
        mark={"enum": list(SelfReport.Kind.values)},
        value={},
        task={**_NUMBER, "type": ["integer", "null"]},
    )
    | {"required": ["key", "at", "session", "kind", "mark", "value"]},
    "stop": _kind(
        kind={"const": "stop"},
        flags={
            "type": "array",
            "items": {"enum": [flag.value for flag in ASKABLE]},
            "minItems": 1,
            "maxItems": 20,
        },
        comment=_TEXT,
    )
    | {"required": ["key", "at", "session", "kind", "flags"]},
    "ended": _kind(
        kind={"const": "ended"},
        ending={"enum": list(Session.Ending.values)},
        done={"type": "integer", "minimum": 0, "maximum": 200},
    )
    | {"required": ["key", "at", "session", "kind", "ending"]},
}  # fmt: skip
_FORMATS = jsonschema.FormatChecker()
_VALIDATORS = {
    kind: jsonschema.Draft202012Validator(schema, format_checker=_FORMATS)
    for kind, schema in SCHEMAS.items()
}
_REPORT_VALIDATORS = {
    kind: jsonschema.Draft202012Validator(schema, format_checker=_FORMATS)
    for kind, schema in _REPORTS.items()
}


class BadEntry(ValueError):
    """An entry is invalid; the message is for the log, not for the client."""


def check_entry(entry: Any) -> dict:
    """Return the entry, which fits its schema.

    Raises:
        BadEntry: it does not.
    """
    kind = entry.get("kind") if isinstance(entry, dict) else None
    validator = _VALIDATORS.get(kind) if isinstance(kind, str) else None
    if validator is None:
        raise BadEntry("no such kind of entry")
    problem = jsonschema.exceptions.best_match(validator.iter_errors(entry))
    if problem is None and kind == "mark":
        found = _REPORT_VALIDATORS[SelfReport.Kind(entry["mark"])].iter_errors(entry["value"])
        problem = jsonschema.exceptions.best_match(found)
    if problem is not None:
        # Log only place and rule: the text is the client's.
        raise BadEntry(f"{kind}: {problem.json_path}: {problem.validator}")
    for name in (entry["key"], entry["session"]["key"]):
        UUID(name)
    for time_text in (entry["at"], entry["session"]["begun_at"]):
        _check_zone(time_text)
    return entry


_OF_TRY = jsonschema.Draft202012Validator(
    {"type": "object", "properties": {name: _TRY[name] for name in _TRY if name != "task"}}
)


def trial_details(details: dict) -> dict:
    """Return the metadata of a live take that describe its trial, by the schema of entries.

    Raises:
        BadEntry: it does not fit.
    """
    problem = jsonschema.exceptions.best_match(_OF_TRY.iter_errors(details))
    if problem is not None:
        raise BadEntry(f"about: {problem.json_path}: {problem.validator}")
    return {
        "role": "",
        **{name: details[name] for name in _TRY if name in details and name != "task"},
    }


def _check_zone(name: str) -> None:
    """Reject a time without a zone, which could mean any of 26 hours; its value is checked
    elsewhere."""
    try:
        zone = datetime.fromisoformat(name).tzinfo
    except ValueError:
        zone = None
    if zone is None:
        raise BadEntry("a time without its zone")
