"""A request of somebody who has signed in."""

from __future__ import annotations

from django.http import HttpRequest

from .models import User


class SignedInRequest(HttpRequest):
    """What a view gets behind `login_required`; for annotations only."""

    user: User
