"""A request by a signed-in user."""

from __future__ import annotations

from django.http import HttpRequest

from .models import User


def mark_not_taken(request: HttpRequest) -> None:
    """Mark the input as rejected, so that the page keeps it."""
    request.__dict__["not_taken"] = True


class SignedInRequest(HttpRequest):
    """A request behind `login_required`; for annotations only."""

    user: User
