"""Tries as CSV (RFC 4180, UTF-8): one row a try, units in the column names, unknown left empty."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, fields
from datetime import datetime


@dataclass(frozen=True, slots=True)
class TrialRow:
    """One try. Times carry their offset; None is "not measured"."""

    try_id: str
    performed_at: datetime
    client: str
    programme_version: int
    task: str
    note: str | None
    source: str
    target_s: float | None
    seconds_counted: str
    total_s: float | None
    steady_s: float | None
    pitch_median_hz: float | None
    pitch_error_cents: float | None
    pitch_spread_cents: float | None
    pitch_drift_cents: float | None
    on_pitch_share: float | None
    breaks: int | None
    level_relative_dbfs: float | None
    snr_db: float | None
    outcome: str
    not_judged_because: str


def write_trials(rows: Iterable[TrialRow]) -> Iterator[str]:
    """The file, line by line, header first."""
    names = [field.name for field in fields(TrialRow)]
    yield _line(names)
    for row in rows:
        yield _line([_cell(getattr(row, name)) for name in names])


def _line(cells: list[str]) -> str:
    out = io.StringIO()
    csv.writer(out).writerow(cells)
    return out.getvalue()


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, datetime):
        return value.isoformat(timespec="seconds")
    if isinstance(value, str):
        # a spreadsheet would run a text that begins like this as a formula
        return f"'{value}" if value[:1] in tuple("=+-@\t\r") and value[:1] else value
    return str(value)
