"""Rows as CSV (RFC 4180, UTF-8): units in the column names, unknown left empty."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator
from dataclasses import field, fields
from datetime import date, datetime
from typing import Any

#: Characters that begin a formula, ASCII and full width.
_FORMULA_SIGNS = tuple("=+-@＝＋－＠")


def column(meaning: str, unit: str = "") -> Any:
    """Return a field of a row with its description, from which the row's dictionary is made."""
    return field(metadata={"meaning": meaning, "unit": unit})


def write_table(kind: type, rows: Iterable[Any]) -> Iterator[str]:
    """Yield the file of one kind of row, line by line, header first."""
    names = [each.name for each in fields(kind)]
    yield _line(names)
    for row in rows:
        yield _line([_cell(getattr(row, name)) for name in names])


def write_dictionary(kind: type) -> Iterator[str]:
    """Yield the description of each column of a kind of row: name, type, unit, meaning."""
    yield _line(["column", "type", "unit", "meaning"])
    for each in fields(kind):
        metadata = each.metadata
        yield _line([each.name, str(each.type), metadata.get("unit", ""), metadata["meaning"]])


def _line(cells: list[str]) -> str:
    out = io.StringIO()
    csv.writer(out).writerow(cells)
    return out.getvalue()


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, datetime):
        return value.isoformat(timespec="seconds")
    if isinstance(value, date):
        return value.isoformat()
    if isinstance(value, str):
        # A spreadsheet would run a text that begins like this as a formula, even after spaces.
        runs = value[:1] in ("\t", "\r") or value.lstrip()[:1] in _FORMULA_SIGNS
        return f"'{value}" if value.strip() and runs else value
    return str(value)
