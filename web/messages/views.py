"""Reminders: turned off by the link that each carries, and on or off on a client's own device."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.utils.translation import gettext
from django.views.decorators.http import require_POST

from web.accounts.access import practising
from web.clients.pseudonyms import by_practice_link
from web.ui.request_body import read_json

from .push import BadSubscription, add_device, is_offered, remove_device
from .unsubscribing import client_of, turn_off

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest

#: Largest subscription, bytes.
LARGEST_SUBSCRIPTION = 4096


@by_practice_link
def reminders_off(request: HttpRequest, token: str) -> HttpResponse:
    """Ask for confirmation, so that an email program that opens links automatically changes
    nothing."""
    client = client_of(token)
    if request.method == "POST":
        turn_off(client)
    context = {"clinic": client.clinic, "off": request.method == "POST"}
    return render(request, "messages/reminders_off.html", context)


@practising
@require_POST
def device(request: SignedInRequest) -> JsonResponse:
    """Turn reminders on this device on, or off where the body says so."""
    client = get_object_or_404(request.user.visible_clients())
    try:
        sent = read_json(request.body, most_bytes=LARGEST_SUBSCRIPTION)
        if not isinstance(sent, dict):
            raise BadSubscription
        if sent.get("off"):
            remove_device(client, str(sent.get("endpoint", "")))
        elif not is_offered():
            raise BadSubscription
        else:
            add_device(client, request.user, sent.get("subscription"))
    except (ValueError, BadSubscription):
        return JsonResponse(
            {"sentence": gettext("Reminders could not be turned on on this device.")}, status=400
        )
    return JsonResponse({})
