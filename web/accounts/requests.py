"""A request by a signed-in user."""

from __future__ import annotations

from django.http import HttpRequest

from .models import User


def mark_not_taken(request: HttpRequest) -> None:
    """Note that what was sent was not accepted, for the page to keep it."""
    request.__dict__["not_taken"] = True


class SignedInRequest(HttpRequest):
    """A request behind `login_required`; for annotations only."""

    user: User
