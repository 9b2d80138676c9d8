"""Identify the sender of an entry, and explain to a device why it may not send.

There are three cases. A signed-out client signs in again and loses
nothing; a disabled link needs a new one from the clinic; and a lost connection
comes back by itself.
"""

from __future__ import annotations

from django.http import HttpRequest, JsonResponse
from django.utils.translation import gettext, gettext_lazy

from web.accounts.access_log import note_record
from web.accounts.models import User
from web.clients.models import Client

from .page_token import holder_of

#: Clear-Site-Data header for a device that lost access.
CLEARS = '"cache", "storage"'
CLOSED = gettext_lazy("This practice link is disabled. Ask your clinic for a new one.")
REPLACED = gettext_lazy("This practice link has been replaced. Open the new one on this device.")


def client_of(user: User, pk: int | None = None) -> Client | None:
    """Return the client whose entries this user may send: themselves, or a client in the clinic."""
    clients = user.visible_clients().select_related("clinic")
    if pk is not None:
        client = clients.filter(pk=pk).first()
        if client is not None:
            note_record(client.pk)
        return client
    return clients.first() if user.practises else None


def shut_out(request: HttpRequest) -> JsonResponse:
    """Return the answer to a device that is not signed in: sign in again, or the link is disabled.
    A disabled device deletes its data, unless a new link exists with which encrypted entries can be
    sent."""
    holder = holder_of(request.headers.get("X-Practice-Page", ""))
    if holder is None or holder.can_send:
        return JsonResponse(
            {"state": "signed_out", "sentence": gettext("Sign in again.")}, status=401
        )
    answer = {
        "state": "closed",
        "sentence": REPLACED if holder.is_replaced else CLOSED,
        "keeps": holder.is_replaced,
    }
    closed = JsonResponse(answer, status=410)
    if not holder.is_replaced:
        closed["Clear-Site-Data"] = CLEARS
    return closed
