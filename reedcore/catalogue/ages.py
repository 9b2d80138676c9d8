"""Wording of instructions by age: adults, teenagers or children."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from functools import cache
from pathlib import Path
from typing import Any

import yaml

from .pairs import shapes, sounds

ADULT, TEENAGER, CHILD = WORDINGS = ("adult", "teenager", "child")
_DATA = Path(__file__).parent / "data" / "ages.yaml"
#: Ages of teenagers.
TEENAGER_FROM, ADULT_FROM = 13, 18


def age_in_years(born_on: date, on: date) -> int:
    """Return the age in whole years on a day."""
    return on.year - born_on.year - ((on.month, on.day) < (born_on.month, born_on.day))


def wording_at(years: int) -> str:
    """Return the wording for an age in whole years."""
    if years < TEENAGER_FROM:
        return CHILD
    return TEENAGER if years < ADULT_FROM else ADULT


@cache
def age_lines() -> Mapping[str, Any]:
    """Return the data file: by wording, lines by sound, by shape and by task."""
    return dict(yaml.safe_load(_DATA.read_text()))


def lines_for(code: str, pair: tuple[str, str] | None) -> dict[str, list[str]]:
    """Return the lines of a task in another wording: its own, or those of its shape and its sound;
    a half without any keeps the usual line."""
    found = {}
    for wording, line_codes in age_lines().items():
        if own := line_codes.get("tasks", {}).get(code):
            found[wording] = own
        elif pair:
            shape, sound = pair
            how, lines = (
                line_codes.get("sounds", {}).get(sound),
                line_codes.get("shapes", {}).get(shape),
            )
            if how or lines:
                found[wording] = [how or sounds()[sound].how, *(lines or shapes()[shape].lines)]
    return found
