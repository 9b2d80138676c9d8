"""A shared device of several clients: its identity, and the names on it.

The device carries a signed cookie; it opens nothing. It shows the names the clinic put there, and
each name still asks for its PIN.
"""

from __future__ import annotations

from typing import Any

from django.contrib.auth.hashers import UNUSABLE_PASSWORD_PREFIX
from django.db.models import QuerySet
from django.http import HttpRequest, HttpResponse

from web.clients.models import Client

from .models import Tablet

COOKIE = "still-reed-tablet"
_SALT = "practice: a shared tablet"
#: A tablet unused for this long is set up again.
KEPT_S = 400 * 24 * 3600


def tablet_of(request: HttpRequest) -> Tablet | None:
    """Return which shared tablet this device is."""
    pk = request.get_signed_cookie(COOKIE, default="", salt=_SALT, max_age=KEPT_S)
    if not pk:
        return None
    return Tablet.objects.filter(pk=pk, ended_at=None).select_related("clinic").first()


def is_now(response: HttpResponse, tablet: Tablet, *, is_secure: bool) -> HttpResponse:
    """Make the device that receives this response the shared tablet."""
    response.set_signed_cookie(
        COOKIE,
        str(tablet.pk),
        salt=_SALT,
        max_age=KEPT_S,
        httponly=True,
        samesite="Lax",
        secure=is_secure,
    )
    return response


def tablet_clients(tablet: Tablet) -> QuerySet[Any]:
    """Return clients who can sign in by name: with a link, and a PIN of their own choice.

    Clients without a PIN are left out: the first person to touch the name could choose one.
    """
    there = tablet.clients.filter(archived_at=None, practice_code__isnull=False)
    chosen = there.exclude(account=None).exclude(
        account__password__startswith=UNUSABLE_PASSWORD_PREFIX
    )
    return chosen.select_related("account", "clinic")


def tiles(tablet: Tablet) -> list[tuple[Client, str]]:
    """Return each client with a label: the first name, and more only if names are equal."""
    found = list(tablet_clients(tablet))
    short = [_short(each.name) for each in found]
    return [
        (each, name if short.count(name) == 1 else each.name)
        for each, name in zip(found, short, strict=True)
    ]


def _short(name: str) -> str:
    first, *others = name.split() or [name]
    return f"{first} {others[-1][0]}." if others else first
