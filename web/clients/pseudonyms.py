"""Pseudonyms for auditors: identifying fields are removed as rows are read, so that no page
and no file has to think of it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from contextvars import ContextVar
from functools import wraps
from typing import Any

from django.http import HttpRequest
from django.http.response import HttpResponseBase

_left_out: ContextVar[bool] = ContextVar("names are hidden", default=False)
#: Identifying fields of the record, with their replacements.
NAMING = {
    "name": "no. {pk}",
    "born_on": None,
    "contact_detail": "",
    "referrer": "",
    "grown_up": "an adult",
}


def are_names_hidden() -> bool:
    """Return whether rows are read without names now."""
    return _left_out.get()


@contextmanager
def hide_names() -> Iterator[None]:
    """Hide names in rows that are read inside this context."""
    before = _left_out.set(True)
    try:
        yield
    finally:
        _left_out.reset(before)


def by_practice_link(view: Any) -> Any:
    """Return a view that opens by a practice link and acts for its owner, even if an auditor is
    signed in: it reads rows unchanged."""

    @wraps(view)
    def with_stored_names(request: HttpRequest, *args: Any, **kwargs: Any) -> Any:
        before = _left_out.set(False)
        try:
            return view(request, *args, **kwargs)
        finally:
            _left_out.reset(before)

    return with_stored_names


class PseudonymMixin:
    """A model with identifying fields."""

    #: By field: the replacement that users without names read.
    INSTEAD: Mapping[str, str | None] = {}

    @classmethod
    def from_db(cls, db: str, field_names: list[str], values: Any) -> Any:
        """Return the row; for auditors without identifying fields."""
        read = super().from_db(db, field_names, values)  # type: ignore[misc]  # the model's
        if are_names_hidden():
            for field in cls.INSTEAD.keys() & set(field_names):
                if not getattr(read, field):
                    continue  # An empty name stays empty.
                instead = cls.INSTEAD[field]
                setattr(read, field, instead and instead.format(pk=read.pk))
        return read

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Save the row; refuse rows that were read without names."""
        if are_names_hidden():
            raise RuntimeError("a record that was read without its name is not kept")
        super().save(*args, **kwargs)  # type: ignore[misc]


class NamelessMiddleware:
    """Remove identifying fields from every row read by an auditor."""

    def __init__(self, get_response: Callable[..., Any]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        if request.user.is_authenticated and request.user.sees_no_names:
            with hide_names():
                return self.get_response(request)
        return self.get_response(request)
