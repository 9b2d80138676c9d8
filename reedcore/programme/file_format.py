"""A programme as a file for another clinic: version 2 of the format, which also reads version 1.

Stored documents keep the names of version 1, so that the previous release can read them.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from .document_schema import FORMAT, PROGRAMME
from .document_schema import VERSION as STORED_VERSION

VERSION = 2
#: Names of version 2 by their stored names, for each kind of object.
_ITEM = {
    "meant": "deliberate_because",
    "or": "alternative",
    "strand": "programme",
    "short": "in_short_session",
    "sip": "hydration_break",
    "cue": "breath_cue",
    "words": "instructions",
    "words_replace": "instructions_replace",
    "say_before": "spoken_before",
}
_DOSE = {"a_day": "sessions_per_day", "off": "days_off"}
_PROGRAMME = {"sort": "type", "beside": "concurrent", "overrules": "overrides"}

_Names = Mapping[str, str]
_Rename = Callable[[Any, _Names], Any]


def programme_file(document: Mapping[str, Any]) -> dict[str, Any]:
    """Return a stored document as a file of version 2."""
    return {**_rename_keys(document, _keys), "format": FORMAT, "version": VERSION}


def document_from_file(raw: Any) -> Any:
    """Return a file with the names of a stored document. A file that is not of version 2 is
    returned as it is, for :func:`~reedcore.programme.document.clean_document` to check."""
    if not isinstance(raw, dict) or raw.get("version") != VERSION:
        return raw
    return {**_rename_keys(raw, _stored_keys), "version": STORED_VERSION}


def item_from_file(raw: Any) -> Any:
    """Return one item of a file, of either version, with the names of a stored document."""
    return _stored_keys(raw, _ITEM)


def file_schema() -> dict[str, Any]:
    """Return the JSON Schema (2020-12) of version 2."""
    stored_schema: dict[str, Any] = dict(PROGRAMME)
    schema = _renamed_schema(stored_schema, _PROGRAMME)
    properties = schema["properties"]
    properties["version"] = {"const": VERSION}
    properties["items"] = {
        **properties["items"],
        "items": _renamed_schema(properties["items"]["items"], _ITEM),
    }
    properties["dose"] = _renamed_schema(properties["dose"], _DOSE)
    stored = properties["concurrent"]["additionalProperties"]
    other = _renamed_schema(stored, _PROGRAMME)
    other["properties"]["dose"] = properties["dose"]
    properties["concurrent"] = {**properties["concurrent"], "additionalProperties": other}
    taper = dict(properties["taper"])
    before = dict(taper["properties"]["before"])
    before["properties"] = {"items": properties["items"], "dose": properties["dose"]}
    properties["taper"] = {**taper, "properties": {**taper["properties"], "before": before}}
    return schema


def _renamed_schema(schema: Mapping[str, Any], names: _Names) -> dict[str, Any]:
    properties = {names.get(name, name): each for name, each in schema["properties"].items()}
    required = [names.get(name, name) for name in schema.get("required", ())]
    return {**schema, "properties": properties, "required": required}


def _keys(raw: Any, names: _Names) -> Any:
    if not isinstance(raw, Mapping):
        return raw
    return {names.get(name, name): value for name, value in raw.items()}


def _stored_keys(raw: Any, names: _Names) -> Any:
    """Return the object with stored names; a name that is both, or a stored one, stays."""
    stored = {new: old for old, new in names.items()}
    return _keys(raw, stored)


def _rename_keys(raw: Mapping[str, Any], keys: _Rename) -> dict[str, Any]:
    """Return a programme with the keys of all its objects renamed. Values of an unexpected type
    stay unchanged, because the check afterwards reports their place."""
    found: dict[str, Any] = keys(raw, _PROGRAMME)
    _replace_value(found, "items", lambda items: _items(items, keys))
    _replace_value(found, "dose", lambda dose: keys(dose, _DOSE))
    for name in ("beside", "concurrent"):
        _replace_value(found, name, lambda others: _rename_programmes(others, keys))
    _replace_value(found, "taper", lambda taper: _taper(taper, keys))
    return found


def _replace_value(raw: dict[str, Any], name: str, change: Callable[[Any], Any]) -> None:
    if name in raw:
        raw[name] = change(raw[name])


def _items(raw: Any, keys: _Rename) -> Any:
    return [keys(each, _ITEM) for each in raw] if isinstance(raw, list) else raw


def _rename_programmes(raw: Any, keys: _Rename) -> Any:
    if not isinstance(raw, Mapping):
        return raw
    found = {}
    for id, each in raw.items():
        found[id] = keys(each, _PROGRAMME)
        if isinstance(found[id], dict):
            _replace_value(found[id], "dose", lambda dose: keys(dose, _DOSE))
    return found


def _taper(raw: Any, keys: _Rename) -> Any:
    if not isinstance(raw, Mapping) or not isinstance(raw.get("before"), Mapping):
        return raw
    before = dict(raw["before"])
    _replace_value(before, "items", lambda items: _items(items, keys))
    _replace_value(before, "dose", lambda dose: keys(dose, _DOSE))
    return {**raw, "before": before}
