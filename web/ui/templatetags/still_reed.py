"""Figures as people read them: unknown is shown as unknown."""

from __future__ import annotations

import json
from collections.abc import Iterable
from functools import cache
from typing import Any

from django import template
from django.conf import settings
from django.core.serializers.json import DjangoJSONEncoder
from django.db.models import Field, Model
from django.utils.html import json_script
from django.utils.translation import get_language, gettext, ngettext
from django.utils.translation.trans_real import DjangoTranslation
from django.views.i18n import JavaScriptCatalog

from reedcore.translation import translate as core_text

register = template.Library()

UNKNOWN = "–"


@register.filter
def seconds(value: float | None, places: int = 1) -> str:
    """Return ``14.2``; a dash if not measured."""
    return UNKNOWN if value is None else f"{value:.{places}f}"


@register.filter
def signed_cents(value: float | None) -> str:
    """Return ``+12`` or ``−31`` with a true minus; a dash if not measured."""
    if value is None:
        return UNKNOWN
    whole = round(value)
    return f"{'+' if whole > 0 else '−' if whole < 0 else '±'}{abs(whole)}"


@cache
def _labels(field: Field[Any, Any]) -> dict[Any, Any]:
    return dict(field.flatchoices)


@register.filter
def choice(row: Model, name: str) -> str:
    """Return the label of a row's choice; empty if none was made.

    ``get_…_display`` translates every label of the field to find one. A list of a hundred rows
    waits for that, so lists use this filter.
    """
    field = row._meta.get_field(name)
    value = getattr(row, name)
    return str(_labels(field).get(value, value) or "")


@register.filter
def figure(value: float | None, places: int = 0) -> str:
    """Return a plain figure, or a dash."""
    return UNKNOWN if value is None else f"{value:.{places}f}".replace("-", "−")


@register.filter
def lasting(seconds: float) -> str:
    """Return a length in seconds if short, otherwise in minutes."""
    if seconds < 90:
        return gettext("{seconds:.0f} seconds").format(seconds=seconds)
    minutes = round(seconds / 60)
    return ngettext("{count} minute", "{count} minutes", minutes).format(count=minutes)


@register.filter
def as_json(value: dict[str, Any]) -> str:
    """Return JSON for a data attribute, which the template escapes."""
    return json.dumps(value, cls=DjangoJSONEncoder)


@register.filter
def cm(metres: float) -> str:
    """Return metres as centimetres."""
    return UNKNOWN if metres is None else f"{metres * 100:g}"


@register.filter
def target_seconds(value: float | None) -> str:
    """Return a target as it was set: ``15`` or ``7.5``; two decimals at most."""
    return UNKNOWN if value is None else f"{round(value, 2):g}"


@register.filter
def listed(rows: Iterable[Any], name: str) -> str:
    """Return one field of each row, separated by commas."""
    return ", ".join(str(getattr(row, name)) for row in rows)


@register.simple_tag
def script_texts() -> str:
    """Return the texts of the scripts in the page's language; empty for English."""
    language = get_language() or settings.LANGUAGE_CODE
    if language.partition("-")[0] == "en":
        return ""
    view = JavaScriptCatalog()
    view.translation = DjangoTranslation(language, domain="djangojs")
    return json_script(view.get_catalog(), "words")


@register.filter
def translated(text: str) -> str:
    """Return a text of the core in the language of the request."""
    return core_text(text)
