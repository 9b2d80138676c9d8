"""What stands around the reeds: where series break, versions, and days missed."""

from datetime import datetime, time, timedelta

from django.db.models import Q

from web.decisions.cases import due_by_doses, pauses_of
from web.practice.models import Session
from web.sound.models import Calibration

from .session_summaries import device_of


def annotations(client, rows, first, last, zone, today):
    """What stands around the reeds: where series break, versions, and days missed."""
    begins = datetime.combine(first, time(), zone)
    ends = datetime.combine(last + timedelta(days=1), time(), zone)
    versions = list(
        client.programmes.filter(withdrawn_at=None)
        .order_by("version")
        .values_list("version", "published_at", "document__dose")
    )
    doses = [(at.astimezone(zone).date(), dose) for _, at, dose in versions]
    practised = {
        at.astimezone(zone).date()
        for at in Session.objects.filter(client=client, begun_at__gte=begins, begun_at__lt=ends)
        .exclude(sort="extra")
        .values_list("begun_at", flat=True)
    } | {row.at.astimezone(zone).date() for row in rows}
    stops = client.stops.filter(pauses=True).filter(Q(cleared_at=None) | Q(cleared_at__gte=begins))
    pauses = pauses_of(stops, zone, today)
    due = due_by_doses(doses, min(today, last + timedelta(days=1)), pauses)
    return {
        "breaks": sorted(_device_changes(rows, zone) + _calibrations(client, rows, first, last)),
        "versions": [
            (day, f"programme {number}")
            for (number, *_), (day, _) in zip(versions, doses, strict=True)
        ],
        "missed": [day for day in due if day not in practised],
    }


def _device_changes(rows, zone):
    found, before = [], None
    for row in rows:
        device = device_of(row)
        if device and before and device != before:
            day = row.at.astimezone(zone).date()
            found.append(
                (day, f"new microphone, {row.capture.get('device', '')}: level starts anew", True)
            )
        before = device or before
    return found


def _calibrations(client, rows, first, last):
    """Of the devices that these trials were heard through."""
    devices = {row.capture.get("device") for row in rows} - {None, ""}
    made = Calibration.objects.filter(
        clinic=client.clinic, device__in=devices, made_on__gte=first, made_on__lte=last
    )
    return [
        (day, f"{device} calibrated: level starts anew", True)
        for day, device in made.values_list("made_on", "device")
    ]
