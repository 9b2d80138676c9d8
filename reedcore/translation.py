"""The texts of the core, in the language of the reader.

The core keeps codes. The catalogue's texts and a few sentences are words all the same: they pass
through the translations that are in force, those of the standard library's gettext by default. What
serves people sets them (a web request, a command); without any, texts stay in English.
"""

from __future__ import annotations

import gettext
from collections.abc import Callable
from contextvars import ContextVar
from functools import cache, wraps
from typing import Protocol, TypeVar

R = TypeVar("R")


class Translations(Protocol):
    """Translations from the standard library, or any object with the same methods."""

    def gettext(self, message: str) -> str:
        """Return the text in the language in force."""
        ...


class _English(gettext.NullTranslations):
    language = "en"


#: Translations of this thread or task; None for the site's default.
TRANSLATIONS: ContextVar[Translations | None] = ContextVar("translations", default=None)
_site: list[Translations] = [_English()]


def translate_with(translations: Translations) -> None:
    """Set the translations of a site: an object that knows the language of each request."""
    _site[0] = translations


def translate(text: str) -> str:
    """Return a text in the language in force; an empty one stays empty."""
    return _current_translations().gettext(text) if text else text


def language() -> str:
    """Return the code of the language in force; "en" by default."""
    return str(getattr(_current_translations(), "language", "en"))


def _current_translations() -> Translations:
    return TRANSLATIONS.get() or _site[0]


def once_a_language(make: Callable[[], R]) -> Callable[[], R]:
    """Cache the result of a function without arguments, separately for each language."""

    @cache
    def cached(code: str) -> R:
        return make()

    @wraps(make)
    def for_language() -> R:
        return cached(language())

    return for_language
