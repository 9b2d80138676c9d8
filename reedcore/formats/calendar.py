"""Sessions as an iCalendar file, which any calendar takes in; a new version updates the old one."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from icalendar import Alarm, Calendar, Event

from reedcore.dose import Slot

REMIND_BEFORE = timedelta(minutes=15)


def write_calendar(
    slots: Sequence[Slot],
    *,
    zone: ZoneInfo,
    uid_space: str,
    sequence: int,
    made_at: datetime,
    title: str,
    words: str,
    minutes: int,
    dropped: Sequence[Slot] = (),
) -> bytes:
    """One event a slot, with a reminder.

    Args:
        uid_space: the client's own, stable over versions: a slot of the same day and number is the
            same event in every version.
        sequence: the programme's version, which makes it the newer one.
        dropped: slots of the version before that no longer stand; they are cancelled.
    """
    calendar = Calendar()
    calendar.add("prodid", "-//Still Reed//practice//EN")
    calendar.add("version", "2.0")
    calendar.add("calscale", "GREGORIAN")
    calendar.add("method", "PUBLISH")
    for slot, stands in [*((s, True) for s in slots), *((s, False) for s in dropped)]:
        event = Event()
        event.add("uid", f"{slot.day:%Y%m%d}-{slot.number}@{uid_space}")
        event.add("sequence", sequence)
        event.add("dtstamp", made_at)
        event.add("dtstart", slot.at.replace(tzinfo=zone))
        event.add("duration", timedelta(minutes=max(1, minutes)))
        event.add("summary", title)
        event.add("description", words)
        event.add("status", "CONFIRMED" if stands else "CANCELLED")
        if stands:
            alarm = Alarm()
            alarm.add("action", "DISPLAY")
            alarm.add("description", title)
            alarm.add("trigger", -REMIND_BEFORE)
            event.add_component(alarm)
        calendar.add_component(event)
    calendar.add_missing_timezones()
    return bytes(calendar.to_ical())
