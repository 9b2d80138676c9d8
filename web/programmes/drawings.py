"""Drawings of the catalogue as part of a page, so that a printed handout fetches nothing."""

from functools import cache

from django.contrib.staticfiles import finders
from django.utils.safestring import mark_safe


@cache
def inline_drawing(name: str) -> str:
    """The SVG of a drawing that ships with the catalogue; empty without one."""
    path = finders.find(f"catalogue/drawings/{name}.svg") if name else None
    if path is None:
        return ""
    with open(path) as file:
        return mark_safe(file.read())  # noqa: S308  our own file, named by the schema
