"""Turning reminders off by the link that each carries."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from web.clients.pseudonyms import by_a_link

from .unsubscribing import client_of, turn_off


@by_a_link
def reminders_off(request: HttpRequest, token: str) -> HttpResponse:
    """Ask once, so that a mail program that opens links by itself turns nothing off."""
    client = client_of(token)
    if request.method == "POST":
        turn_off(client)
    context = {"clinic": client.clinic, "off": request.method == "POST"}
    return render(request, "messages/reminders_off.html", context)
