"""The reeds of a chart as marks of the drawing, written at once: there are many, and all alike."""

from collections.abc import Iterable
from functools import lru_cache
from typing import Protocol

from django.template.loader import render_to_string
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString, mark_safe


class Mark(Protocol):
    """The parts of a reed that are drawn."""

    @property
    def title(self) -> str:
        """Return the title of the mark."""

    @property
    def link(self) -> str:
        """Return the address that the mark opens."""

    @property
    def key(self) -> str:
        """Return the key of the trial."""

    @property
    def reach(self) -> str:
        """Return the path of the area that accepts a click."""

    @property
    def state(self) -> str:
        """Return the state of the trial, a class of the stem."""

    @property
    def path(self) -> str:
        """Return the path of the stem."""

    @property
    def head(self) -> str | None:
        """Return the kind of the head, or None."""

    @property
    def tip(self) -> tuple[float, float]:
        """Return the position of the tip, px."""

    @property
    def x(self) -> float:
        """Return the position on the time axis, px."""

    @property
    def y(self) -> float:
        """Return the position on the seconds axis, px."""


_LINK = '<a href="{}" data-swap tabindex="-1" data-reed="{}">{}</a>'
_REACH = '<title>{}</title><path class="reach" d="{}"/>'
_STEM = f'{_REACH}<path class="stem stem-{{}}" d="{{}}"/>{{}}'
_POINT = f'{_REACH}<circle class="point point-{{}}" cx="{{}}" cy="{{}}" r="4"/>'
_HEAD = '<g class="head head-{} head-{}" transform="translate({} {}) scale(0.33)">{}</g>'


def stems(reeds: Iterable[Mark]) -> SafeString:
    """Return each stem with its head and its link."""
    return _leading(
        (reed, format_html(_STEM, reed.title, reed.reach, reed.state, reed.path, _head(reed)))
        for reed in reeds
    )


def points(reeds: Iterable[Mark]) -> SafeString:
    """Return each as a point of a line."""
    return _leading(
        (reed, format_html(_POINT, reed.title, reed.reach, reed.state, reed.x, reed.y))
        for reed in reeds
    )


def _leading(marks: Iterable[tuple[Mark, SafeString]]) -> SafeString:
    led = (
        format_html(_LINK, reed.link, reed.key, mark)
        if reed.link
        else format_html("<g>{}</g>", mark)
        for reed, mark in marks
    )
    return format_html_join("", "{}", ((each,) for each in led))


def _head(reed: Mark) -> SafeString:
    if not reed.head:
        return mark_safe("")
    return format_html(_HEAD, reed.head, reed.state, *reed.tip, _shape())


@lru_cache(maxsize=1)
def _shape() -> SafeString:
    return render_to_string("practice/_head.html")
