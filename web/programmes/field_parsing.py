"""Parse a field of the composer into an edit, or explain what would be valid.

The fields' names are those of ``programmes/_panel.html`` and ``programmes/_composer.html``.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import date, datetime
from math import isfinite
from typing import Any

from dateutil import parser
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy

from reedcore.catalogue.tasks import shipped_sets
from reedcore.dose.slots import MOST_ON_DEMAND
from reedcore.errors import Refusal
from reedcore.pitch import Note
from reedcore.programme.document_schema import DOSE
from reedcore.programme.edits import (
    ChooseRung,
    Edit,
    SetField,
    SetFrame,
    SetLimit,
    SetParameter,
    SetPattern,
    SetStrand,
    Swap,
)
from web.ui.wording import sentence

FLAGS = ("short", "sip", "cue", "cues", "contrast", "words_replace")
TEXTS = ("strand", "sound", "counts", "reason", "meant", "or", "feedback", "ladder", "say_before")
ANSWERS = ("tired", "hoarse", "ill", "medication")
_ISO = re.compile(r"\d{4}-\d{2}-\d{2}")
FRAME = ("sort", "school", "daily_for_life")  # Also for a programme beside the main one.


class FieldNotParsed(ValueError):
    """A typed value is not valid; the message is shown to the user."""


def edit_typed(item: str, name: str, text: Any) -> Edit | None:
    """Return the edit; None if the field does not change anything.

    Args:
        item: its id; empty for settings of the whole session.
        said: text, yes or no of a box, or the values that are ticked.

    Raises:
        FieldNotParsed: it is none of what the field takes.
    """
    if not item:
        return _parse_session_field(name, text)
    if name.startswith("param:"):
        return SetParameter(item, name.removeprefix("param:"), _number(text))
    if name.startswith("limit:"):
        return SetLimit(item, name.removeprefix("limit:"), _number_or_none(text))
    if name.startswith("pattern:"):
        part = name.removeprefix("pattern:")
        return SetPattern(item, part, _PATTERN.get(part, _text)(text))
    if name.startswith("choice:"):
        return SetParameter(item, name.removeprefix("choice:"), _text(text))
    if name == "fill":
        return SetField(item, "lines", _sample(text)) if text else None
    if name == "rung":
        return ChooseRung(item, _whole_number(text))
    if name == "swap":
        return Swap(item, _text(text)) if text else None
    if name in FLAGS:
        return SetField(item, name, bool(text))
    if name in TEXTS:
        return SetField(item, name, _text(text))
    if name in _FIELDS:
        return SetField(item, name, _FIELDS[name](text))
    raise FieldNotParsed(gettext("Unknown field “{value}”.").format(value=name[:40]))


def _parse_session_field(name: str, text: list[Any] | str) -> SetFrame | SetStrand | None:
    if name in (*FRAME, "wording"):
        return SetFrame("", name, bool(text) if name == "daily_for_life" else _text(text))
    if name in ANSWERS:
        return SetFrame("practice", name, bool(text) if name == "medication" else _text(text))
    if name in _DOSE:
        return SetFrame("dose", name, _DOSE[name](text))
    if name.startswith("beside:"):
        id, _, field = name.removeprefix("beside:").partition(":")
        return _parse_strand_field(id, field, text)
    raise FieldNotParsed(gettext("Unknown field “{value}”.").format(value=name[:40]))


def _parse_strand_field(id: str, name: str, text: Any) -> SetStrand | None:
    """Parse a field of a programme beside the main one."""
    if name in FRAME or name == "name":
        return SetStrand(id, "", name, bool(text) if name == "daily_for_life" else _text(text))
    if name in _DOSE:
        return SetStrand(id, "dose", name, _DOSE[name](text))
    raise FieldNotParsed(gettext("Unknown field “{value}”.").format(value=name[:40]))


def _text(text: Any) -> str:
    return str(text).strip()


def _number(typed: str) -> float:
    text = _text(typed).replace(",", ".").replace("−", "-")
    try:
        value = float(text)
    except ValueError:
        value = float("nan")
    if not isfinite(value):
        problem = (
            gettext("“{value}” is not a number").format(value=_text(typed)[:40])
            if text
            else gettext("Enter a number")
        )
        raise FieldNotParsed(gettext("{wanted}: type it like 7 or 7.5.").format(wanted=problem))
    return int(value) if value.is_integer() else value


def _number_or_none(text: str) -> float | None:
    return _number(text) if _text(text) else None


def _whole_number(text: str) -> int:
    value = _number(text)
    if not isinstance(value, int):
        raise FieldNotParsed(gettext("“{text}” is not a whole number.").format(text=_text(text)))
    return value


def _numbers(text: str) -> list[float]:
    return [_number(each) for each in _text(text).replace(";", " ").split()]


def _notes(text: str) -> list[int]:
    try:
        return [Note.named(each).midi for each in _text(text).split()]
    except Refusal as refusal:
        raise FieldNotParsed(sentence(refusal)) from refusal


def _note_or_none(text: str) -> int | None:
    notes = _notes(text)
    if len(notes) > 1:
        raise FieldNotParsed(gettext("Enter one note."))
    return notes[0] if notes else None


def _groups(text: str) -> list[list[int]]:
    """Parse degrees as people write them: 1 / 1 2 1 / 1-2-3-2-1, or 121 in one word."""
    groups = []
    for part in re.split(r"[/·|,;]", _text(text)):
        digits = re.findall(r"\d", part)
        if re.sub(r"[\d\s\-–]", "", part) or "0" in digits:
            raise FieldNotParsed(
                gettext(
                    "“{value}” is not a list of degrees. Example: 1 2 3 2 1 / 1 3 5 3 1."
                ).format(value=part.strip()[:40])
            )
        if digits:
            groups.append([int(each) for each in digits])
    return groups


def _sample(text: str) -> list[str]:
    code, _, length = _text(text).partition(":")
    _, by_length = shipped_sets().get(code, ("", {}))
    if length not in by_length:
        raise FieldNotParsed(gettext("This set of lines does not exist."))
    return list(by_length[length])


def _lines(text: str) -> list[str]:
    return [line.strip() for line in _text(text).splitlines() if line.strip()]


def _dates(text: str) -> list[str]:
    parts = [each.strip() for each in re.split(r"[,;\n]+", _text(text)) if each.strip()]
    found = []
    for part in parts:
        words = part.split()
        # “2026-12-24 2026-12-25” is two days, “24 December” is one.
        several = words if all(map(_ISO.fullmatch, words)) else [part]
        found += [_date(each) for each in several]
    return sorted(set(found))


def _date(typed: str) -> str:
    """Return a day as people type it; without its year the next that comes."""
    text, today = _text(typed)[:60], timezone.localdate()
    try:
        if _ISO.fullmatch(text):
            return date.fromisoformat(text).isoformat()
        if len(re.findall(r"\w+", text)) < 2:
            raise ValueError("at least a day and a month")
        # A date that reads the same with either default year states its own year.
        this, other = (
            parser.parse(text, dayfirst=True, default=datetime(year, 1, 1)).date()
            for year in (today.year, today.year + 4)
        )
        said_its_year = this == other
        day = this if said_its_year or this >= today else this.replace(year=today.year + 1)
    except (ValueError, OverflowError, TypeError, ArithmeticError) as error:
        words = gettext("“{value}” is not a date: type it like 24 December or 2026-12-24.").format(
            value=text[:40]
        )
        raise FieldNotParsed(words) from error
    return day.isoformat()


def _times(text: str) -> list[str]:
    """Parse times of day as people write them: 8, 8.30, 18:00, 6 pm."""
    found = []
    for each in re.findall(r"\d{1,2}(?:[.:]\d{2})?\s*(?:[ap]\.?m\.?)?", _text(text).lower()):
        hours, minutes = [*re.findall(r"\d+", each), "0"][:2]
        hour = int(hours) % 12 + 12 if "p" in each and int(hours) <= 12 else int(hours)
        if hour > 23 or int(minutes) > 59:
            raise FieldNotParsed(
                gettext("“{strip}” is not a time. Examples: 8.30, 18:00.").format(
                    strip=each.strip()
                )
            )
        found.append(f"{hour:02}:{int(minutes):02}")
    if _text(text) and not found:
        raise FieldNotParsed(
            gettext("“{value}” is not a time. Examples: 8.30, 18:00.").format(
                value=_text(text)[:40]
            )
        )
    return sorted(found)


def _days(text: list[Any]) -> list[int]:
    days = sorted({_whole_number(each) for each in text} if isinstance(text, list) else ())
    if not days:
        raise FieldNotParsed(gettext("Choose at least one day of the week."))
    return days


def _parse_per_day(text: str) -> int:
    """Return the sessions a day; whether that is too many depends on the kind of dose."""
    value = _whole_number(text)
    if not 1 <= value <= MOST_ON_DEMAND:
        raise FieldNotParsed(
            gettext("At least 1 and at most {value} a day.").format(value=MOST_ON_DEMAND)
        )
    return value


def _parser_within(name: str, words: Any) -> Callable[[Any], int]:
    properties: Any = DOSE["properties"]
    limits = properties[name]

    def within(text: Any) -> Any:
        value = _whole_number(text)
        if not limits["minimum"] <= value <= limits["maximum"]:
            raise FieldNotParsed(words.format(limits["minimum"], limits["maximum"]))
        return value

    return within


_FIELDS: dict[str, Callable[[Any], Any]] = {
    "sets": _whole_number,
    "row": _numbers,
    "floor": _number_or_none,
    "ceiling": _number_or_none,
    "notes": _notes,
    "lines": _lines,
    "words": _lines,
    "picture": lambda text: _whole_number(text) if text else None,
}
_PATTERN: dict[str, Callable[[Any], Any]] = {
    "groups": _groups,
    "floor": _note_or_none,
    "ceiling": _note_or_none,
    "bridge": _note_or_none,
}
_DOSE: dict[str, Callable[[Any], Any]] = {
    "kind": _text,
    "trigger": _text,
    "start": _date,
    "off": _dates,
    "times": _times,
    "weekdays": _days,
    "a_day": _parse_per_day,
    "weeks": _parser_within("weeks", gettext_lazy("At least {} and at most {} weeks.")),
}
