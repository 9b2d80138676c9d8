"""Read a practice log kept in a table: any CSV, once its columns are assigned."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime

from reedcore.errors import NotATable

#: More rows are not a log kept by a person.
MOST_ROWS = 2000
FIELDS = ("day", "task", "seconds", "effort")
_DAYS = ("%Y-%m-%d", "%d.%m.%Y", "%d/%m/%Y", "%d %b %Y", "%d %B %Y")


@dataclass(frozen=True, slots=True)
class Table:
    """The file as text: the names of its columns, and its rows with their line in the file."""

    columns: tuple[str, ...]
    rows: tuple[tuple[int, tuple[str, ...]], ...]


@dataclass(frozen=True, slots=True)
class LoggedTrial:
    """A row that was read.

    Attributes:
        line: in the file, the header being 1.
        task: what the file calls it.
        effort: 1–10, None where the file does not say.
    """

    line: int
    day: date
    task: str
    seconds: float
    effort: int | None


@dataclass(frozen=True, slots=True)
class UnreadableRow:
    """A row that could not be read, with the code of the reason."""

    line: int
    field: str
    text: str


def read_table(text: str) -> Table:
    """Return the columns and rows of a CSV with any cell separator.

    Raises:
        NotATable: no header or no rows, or too many rows.
    """
    sample = text[:4096]
    try:
        dialect: type[csv.Dialect] | csv.Dialect = csv.Sniffer().sniff(sample, ",;\t")
    except csv.Error:
        dialect = csv.excel
    try:
        lines = [
            (number, tuple(cell.strip() for cell in cells))
            for number, cells in enumerate(csv.reader(io.StringIO(text), dialect), 1)
            if any(cell.strip() for cell in cells)
        ]
    except csv.Error as error:
        raise NotATable(rows=0, most=MOST_ROWS) from error
    if len(lines) < 2 or len(lines) > MOST_ROWS + 1:
        raise NotATable(rows=max(0, len(lines) - 1), most=MOST_ROWS)
    columns = lines[0][1]
    return Table(columns, tuple(lines[1:]))


def guess_columns(columns: tuple[str, ...]) -> dict[str, int]:
    """Return which column is likely which, by its name; those that cannot be guessed are
    left out."""
    names = {
        "day": ("date", "day", "when"),
        "task": ("task", "exercise", "sound", "what"),
        "seconds": ("seconds", "sec", "time", "held", "total_s", "s"),
        "effort": ("effort",),
    }
    found: dict[str, int] = {}
    for field, words in names.items():
        for place, column in enumerate(columns):
            plain = column.lower()
            if place not in found.values() and (
                plain in words or any(len(word) > 2 and word in plain for word in words)
            ):
                found[field] = place
                break
    return found


def read_log(
    table: Table, places: Mapping[str, int]
) -> tuple[tuple[LoggedTrial, ...], tuple[UnreadableRow, ...]]:
    """Return the rows under a mapping of fields to columns; ``effort`` may be left out.

    Seconds may have a comma for a point, and may be written 1:05.
    """
    good, bad = [], []
    for line, cells in table.rows:
        values = {
            field: cells[place] if place < len(cells) else "" for field, place in places.items()
        }
        day, seconds = _day(values["day"]), _seconds(values["seconds"])
        effort_said = values.get("effort", "")
        effort = _effort(effort_said)
        if day is None:
            bad.append(UnreadableRow(line, "day", values["day"]))
        elif seconds is None:
            bad.append(UnreadableRow(line, "seconds", values["seconds"]))
        elif effort_said and effort is None:
            bad.append(UnreadableRow(line, "effort", effort_said))
        else:
            good.append(LoggedTrial(line, day, values["task"], seconds, effort))
    return tuple(good), tuple(bad)


def _day(text: str) -> date | None:
    plain = text.strip().split("T")[0].split(" ")[0] if text[:4].isdigit() else text.strip()
    for pattern in _DAYS:
        try:
            found = datetime.strptime(plain, pattern).date()
        except ValueError:
            continue
        return found if 1990 <= found.year <= 2200 else None
    return None


def _seconds(text: str) -> float | None:
    minutes, colon, rest = text.rpartition(":")
    try:
        value = float(rest.replace(",", "."))
        value += 60.0 * int(minutes) if colon else 0.0
    except ValueError:
        return None
    return value if 0.3 <= value <= 180.0 else None


def _effort(text: str) -> int | None:
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        return None
    return round(value) if 1 <= value <= 10 else None
