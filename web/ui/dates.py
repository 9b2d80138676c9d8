"""Days and times as sentences hold them, in the language of the request."""

from __future__ import annotations

from datetime import date

from django.utils.formats import date_format
from django.utils.translation import pgettext

_CONTEXT = "date format, https://docs.djangoproject.com/en/5.2/ref/templates/builtins/#date"


def full_day(day: date) -> str:
    """Return ``25 November 2026``."""
    return date_format(day, pgettext(_CONTEXT, "j F Y"))


def month_day(day: date) -> str:
    """Return ``25 November``."""
    return date_format(day, pgettext(_CONTEXT, "j F"))


def short_day(day: date) -> str:
    """Return ``25 Nov``."""
    return date_format(day, pgettext(_CONTEXT, "j M"))


def week_day(day: date) -> str:
    """Return ``Wed 25 Nov``."""
    return date_format(day, pgettext(_CONTEXT, "D j M"))


def week_day_of_year(day: date) -> str:
    """Return ``Wed 25 Nov 2026``."""
    return date_format(day, pgettext(_CONTEXT, "D j M Y"))


def long_week_day(day: date) -> str:
    """Return ``Wednesday 25 November 2026``."""
    return date_format(day, pgettext(_CONTEXT, "l j F Y"))


def month_of_year(day: date) -> str:
    """Return ``November 2026``."""
    return date_format(day, pgettext(_CONTEXT, "F Y"))


def day_and_time(at: date) -> str:
    """Return ``25 November 2026, 14:30``."""
    return date_format(at, pgettext(_CONTEXT, "j F Y, H:i"))
