"""Annotations of a chart: breaks of a series, versions, and missed days."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta
from typing import TYPE_CHECKING, Any

from django.utils.translation import gettext

from reedcore.history import History
from reedcore.history.dues import missed_days
from web.record.history import practice_of
from web.record.models import Session
from web.sound.models import Calibration

if TYPE_CHECKING:
    from web.clients.models import Client

PLACES = dict(Session.Place.choices)


def practised_since(client: Client, first: date) -> History:
    """Return sessions due and their results since this day."""
    return practice_of(client, since=datetime.combine(first, time(), client.zone))


def place_labels(history: History) -> dict[str, str]:
    """Return where or with whom each session was, unless at home and alone."""
    found = {}
    for each in history.sessions:
        place = PLACES.get(each.place, "") if each.place != Session.Place.HOME else ""
        helped = (
            gettext("with {helped_by}").format(helped_by=each.helped_by) if each.helped_by else ""
        )
        if place or helped:
            found[str(each.key)] = ", ".join(str(part) for part in (place, helped) if part)
    return found


def surroundings_of(
    client: Client, history: History, trials: list[Any], first: date, last: date, today: date
) -> dict[str, Any]:
    """Return annotations of the reeds: series breaks, versions, and missed days."""
    return {
        "breaks": sorted(_device_changes(trials) + _calibrations(client, trials, first, last)),
        "versions": [
            (each.on, gettext("programme {number}").format(number=each.number))
            for each in history.in_force
        ],
        "missed": missed_days(history, first, min(today, last + timedelta(days=1))),
    }


def _device_changes(rows: list[Any]) -> list[Any]:
    found, before = [], None
    for row in rows:
        device = row.device
        if device and before and device != before:
            found.append(
                (
                    row.on,
                    gettext("new microphone, {get}: new level series").format(
                        get=row.capture.get("device", "")
                    ),
                    True,
                )
            )
        before = device or before
    return found


def _calibrations(client: Client, rows: list[Any], first: date, last: date) -> list[Any]:
    """Return the calibrations of the devices that recorded these trials."""
    devices = {row.capture.get("device") for row in rows} - {None, ""}
    made = Calibration.objects.filter(
        clinic=client.clinic, device__in=devices, made_on__gte=first, made_on__lte=last
    )
    return [
        (day, gettext("{device} calibrated: new level series").format(device=device), True)
        for day, device in made.values_list("made_on", "device")
    ]
