"""A client's whole practice as one JSON file, and the schema that it keeps to."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import asdict
from datetime import date, datetime
from typing import Any

from .client_csv import ProgrammeRow, SessionRow
from .trials_csv import TrialRow

FORMAT, VERSION = "still-reed-practice", 1
_TYPES = {"str": "string", "int": "integer", "float": "number", "bool": "boolean"}


def client_document(
    *,
    client: Mapping[str, Any],
    programmes: Iterable[ProgrammeRow],
    sessions: Iterable[SessionRow],
    trials: Iterable[TrialRow],
    written_at: datetime,
) -> dict[str, Any]:
    """The file as plain values; unknown is null."""
    return {
        "format": FORMAT,
        "version": VERSION,
        "written_at": written_at.isoformat(timespec="seconds"),
        "client": dict(client),
        "programme": [_plain(row) for row in programmes],
        "sessions": [_plain(row) for row in sessions],
        "trials": [_plain(row) for row in trials],
    }


def client_schema() -> dict[str, Any]:
    """JSON Schema (2020-12) of the file, made of the rows themselves: it cannot lag behind."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "A client's practice",
        "type": "object",
        "additionalProperties": False,
        "required": [
            "format",
            "version",
            "written_at",
            "client",
            "programme",
            "sessions",
            "trials",
        ],
        "properties": {
            "format": {"const": FORMAT},
            "version": {"const": VERSION},
            "written_at": {"type": "string", "format": "date-time"},
            "client": {
                "type": "object",
                "additionalProperties": False,
                "required": ["name", "time_zone"],
                "properties": {
                    "name": {"type": "string"},
                    "born_on": {"type": ["string", "null"], "format": "date"},
                    "age_band": {"type": "string"},
                    "goals": {"type": "string"},
                    "time_zone": {"type": "string"},
                },
            },
            "programme": {"type": "array", "items": _schema_of(ProgrammeRow)},
            "sessions": {"type": "array", "items": _schema_of(SessionRow)},
            "trials": {"type": "array", "items": _schema_of(TrialRow)},
        },
    }


def _schema_of(kind: type) -> dict[str, Any]:
    properties: dict[str, Any] = {}
    for name, said in kind.__annotations__.items():
        parts = str(said).split(" | ")
        base = parts[0]
        schema: dict[str, Any] = {"type": _TYPES.get(base, "string")}
        if base == "datetime":
            schema["format"] = "date-time"
        elif base == "date":
            schema["format"] = "date"
        if "None" in parts:
            schema["type"] = [schema["type"], "null"]
        properties[name] = schema
    return {
        "type": "object",
        "additionalProperties": False,
        "required": list(properties),
        "properties": properties,
    }


def _plain(row: Any) -> dict[str, Any]:
    return {
        name: value.isoformat() if isinstance(value, date) else value
        for name, value in asdict(row).items()
    }
