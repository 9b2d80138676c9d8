"""Annotations of a chart: breaks of a series, versions, and missed days."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta
from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.utils.translation import gettext

from reedcore.history import History
from reedcore.history.dues import missed_days
from web.record.history import practice_of
from web.record.models import SelfReport, Session
from web.sound.models import Calibration

if TYPE_CHECKING:
    from web.clients.models import Client

PLACES = dict(Session.Place.choices)


def practised_since(client: Client, first: date) -> History:
    """Return sessions due and their results since this day."""
    return practice_of(client, since=datetime.combine(first, time(), client.zone))


def place_labels(client: Client, history: History) -> dict[str, str]:
    """Return where or with whom each session was, unless at home and alone; and whether the helper
    answered the questions."""
    found = {}
    answered = _answered_by_helper(client, history)
    for each in history.sessions:
        place = PLACES.get(each.place, "") if each.place != Session.Place.HOME else ""
        helped = ""
        if each.helped_by:
            with_whom = (
                gettext("with {helped_by}, who answered the questions")
                if each.key in answered
                else gettext("with {helped_by}")
            )
            helped = with_whom.format(helped_by=each.helped_by)
        if place or helped:
            found[str(each.key)] = ", ".join(str(part) for part in (place, helped) if part)
    return found


def _answered_by_helper(client: Client, history: History) -> set[UUID]:
    helped = [each.key for each in history.sessions if each.helped_by]
    if not helped:
        return set()
    reports = client.self_reports.filter(
        kind=SelfReport.Kind.ANSWERED_BY, value="helper", session__in=helped
    )
    return set(reports.values_list("session", flat=True))


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
