"""Texts that are written down once, at the top of a module, and read in the language of a request.

A table of texts is a :class:`Words` (by code) or a :class:`WordList` (in order). Each text in it is
marked with :func:`gettext_noop`; it is translated when it is read, and comes as a plain ``str``.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import fields, is_dataclass, replace
from functools import cache
from typing import Any, TypeVar, overload

from django.conf import settings
from django.utils.translation import get_language, gettext

K = TypeVar("K")
V = TypeVar("V", covariant=True)


class MarkedText(str):
    """A text that is translated when a table gives it out."""

    __slots__ = ()


def gettext_noop(text: str) -> str:
    """Mark a text of a table for translation; `makemessages` finds it by this name."""
    return MarkedText(text)


def _translated_value(value: Any) -> Any:
    if isinstance(value, MarkedText):
        return gettext(str(value))
    if isinstance(value, tuple):
        parts = [_translated_value(each) for each in value]
        return type(value)(*parts) if hasattr(value, "_fields") else tuple(parts)
    if type(value) is dict:
        return {key: _translated_value(each) for key, each in value.items()}
    if type(value) is list:
        return [_translated_value(each) for each in value]
    if is_dataclass(value) and not isinstance(value, type):
        texts = {each.name: getattr(value, each.name) for each in fields(value) if each.init}
        read = {name: _translated_value(each) for name, each in texts.items()}
        changed = {name: each for name, each in read.items() if each is not texts[name]}
        return replace(value, **changed) if changed else value
    return value


@cache
def _base_of(code: str) -> str:
    return "en" if code.partition("-")[0] == "en" else code


class SiteTranslations:
    """Translations of the core's words in the language of the current request."""

    @property
    def language(self) -> str:
        """Return the language in force, without its region for English."""
        return _base_of(get_language() or settings.LANGUAGE_CODE)

    def gettext(self, message: str) -> str:
        """Return the text in that language."""
        return gettext(message)


class Words(Mapping[K, V]):
    """Texts by code."""

    def __init__(self, texts: Mapping[K, V]) -> None:
        self._texts = dict(texts)

    def __getitem__(self, key: K) -> V:
        value: V = _translated_value(self._texts[key])
        return value

    def __iter__(self) -> Iterator[K]:
        return iter(self._texts)

    def __len__(self) -> int:
        return len(self._texts)


class WordList(Sequence[V]):
    """Texts in order."""

    def __init__(self, texts: Sequence[V]) -> None:
        self._texts = tuple(texts)

    @overload
    def __getitem__(self, place: int) -> V: ...
    @overload
    def __getitem__(self, place: slice) -> Sequence[V]: ...
    def __getitem__(self, place: int | slice) -> Any:
        return _translated_value(self._texts[place])

    def __len__(self) -> int:
        return len(self._texts)
