"""Queries for a client's screening and stops."""

from __future__ import annotations

from typing import Any

from django.db.models import QuerySet

from reedcore.safety import Block, Flag, Tier, clearance
from web.clients.models import Client

from .models import Screen, Stop


def newest_screen(client: Client) -> Screen | None:
    """Return the screen that counts."""
    return client.screens.select_related("asked_by", "safe_by").first()


def open_stops(client: Client) -> QuerySet[Stop]:
    """Return the uncleared stops of a client, newest first."""
    return client.stops.filter(cleared_at=None)


def unresolved_stops(client: Client) -> QuerySet[Stop]:
    """Return stops without a clinician's decision, newest first, including those that only ended a
    session and those that were withdrawn."""
    return client.stops.filter(cleared_by=None)


def is_paused(client: Client) -> bool:
    """Return whether practice is paused until a clinician has cleared a stop."""
    return open_stops(client).filter(pauses=True).exists()


def blocks(client: Client, *, on: Any, screen: Screen | None = None) -> tuple[Block, ...]:
    """Return the reasons against any voicing and prescribing on this day."""
    screen = screen or newest_screen(client)
    open_flags = {Flag(code) for code in screen.open_flags} if screen else set()
    for stop in open_stops(client).exclude(tier=Tier.END_SESSION, pauses=False):
        open_flags |= {Flag(code) for code in stop.flags}
    return clearance(client.safety_case(open_flags), on=on)
