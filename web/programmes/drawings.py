"""Drawings of the catalogue inline in a page, so that a printed handout loads nothing."""

import re
from functools import cache

from django.contrib.staticfiles import finders
from django.utils.html import escape
from django.utils.safestring import mark_safe

from reedcore.translation import translate

_TITLE = re.compile(r"<title>([^<]*)</title>")


def inline_drawing(name: str) -> str:
    """Return the SVG of a drawing that ships with the catalogue, titled in the language of the
    request; empty without one."""
    titled = _TITLE.sub(
        lambda found: f"<title>{escape(translate(found[1]))}</title>", _load_drawing(name)
    )
    return mark_safe(titled)  # noqa: S308  our own file, named by the schema


@cache
def _load_drawing(name: str) -> str:
    path = finders.find(f"catalogue/drawings/{name}.svg") if name else None
    if path is None:
        return ""
    with open(path) as file:
        return file.read()
