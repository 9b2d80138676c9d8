"""Stops as pages, letters and notes show them."""

from __future__ import annotations

from dataclasses import dataclass
from zoneinfo import ZoneInfo

from django.utils.translation import gettext

from reedcore.safety import Flag
from web.clients.models import Client
from web.clients.wording import join_words
from web.ui.dates import day_and_time

from .actions import advice
from .models import Stop
from .queries import unresolved_stops
from .wording import FLAG_NAMES, delivery_words


@dataclass(frozen=True)
class ShownStop:
    """A stop in words.

    Attributes:
        reasons: what the client reported.
        advice: what the client's screen told them to do.
        delivery: whom it was mailed to, and when.
    """

    stop: Stop
    reasons: str
    advice: str
    delivery: str


def reasons_of(flags: list[str]) -> str:
    """Return the reasons of a stop as one phrase."""
    return join_words(FLAG_NAMES[Flag(code)] for code in flags)


def shown_stops(client: Client) -> list[ShownStop]:
    """Return the stops that no clinician has dealt with yet, the newest first."""
    return [
        ShownStop(stop, reasons_of(stop.flags), advice(stop), delivery_words(stop))
        for stop in unresolved_stops(client)
    ]


def stop_sentence(stop: Stop, zone: ZoneInfo, *, is_for_clinic: bool = True) -> str:
    """Return one stop as a sentence of a letter or a note, with the client's own words.

    Args:
        for_the_clinic: whether it says, too, that no clinician has dealt with it.
    """
    when = day_and_time(stop.said_at.astimezone(zone))
    sentences = [
        gettext("Stopped on {when}: {reasons_of}.").format(
            when=when, reasons_of=reasons_of(stop.flags)
        )
    ]
    if stop.comment:
        sentences.append(gettext("In their words: “{comment}”.").format(comment=stop.comment))
    if stop.cancelled_at:
        sentences.append(gettext("The client then reported pressing it by mistake."))
    if stop.cleared_by_id is None and is_for_clinic:
        sentences.append(gettext("Unresolved."))
    return " ".join(sentences)
