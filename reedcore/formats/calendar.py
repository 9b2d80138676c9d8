"""Sessions as an iCalendar file, which any calendar takes in; a new version updates the old one."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from icalendar import Alarm, Calendar, Event

from reedcore.dose import Slot

REMIND_BEFORE = timedelta(minutes=15)


@dataclass(frozen=True, slots=True)
class DatedProgramme:
    """Sessions of one programme.

    Attributes:
        uid_space: the client's own, stable over versions: a slot of the same day and number is the
            same event in every version.
        minutes: how long a session takes.
        dropped: slots of the version before that no longer stand; they are cancelled.
    """

    slots: tuple[Slot, ...]
    uid_space: str
    title: str
    minutes: int
    dropped: tuple[Slot, ...] = ()


def write_calendars(
    programmes: Sequence[DatedProgramme],
    *,
    zone: ZoneInfo,
    sequence: int,
    made_at: datetime,
    words: str,
) -> bytes:
    """Return one event a slot, with a reminder, of all programmes in force together.

    Args:
        sequence: the version, which makes it the newer one.
    """
    calendar = Calendar()
    calendar.add("prodid", "-//Still Reed//practice//EN")
    calendar.add("version", "2.0")
    calendar.add("calscale", "GREGORIAN")
    calendar.add("method", "PUBLISH")
    for each in programmes:
        for slot in (*each.slots, *each.dropped):
            event = _event(each, slot, zone, is_in_force=slot not in each.dropped)
            event.add("sequence", sequence)
            event.add("dtstamp", made_at)
            event.add("description", words)
            calendar.add_component(event)
    calendar.add_missing_timezones()
    return bytes(calendar.to_ical())


def _event(programme: DatedProgramme, slot: Slot, zone: ZoneInfo, *, is_in_force: bool) -> Event:
    event = Event()
    event.add("uid", f"{slot.day:%Y%m%d}-{slot.number}@{programme.uid_space}")
    event.add("dtstart", slot.at.replace(tzinfo=zone))
    event.add("duration", timedelta(minutes=max(1, programme.minutes)))
    event.add("summary", programme.title)
    event.add("status", "CONFIRMED" if is_in_force else "CANCELLED")
    if is_in_force:
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", programme.title)
        alarm.add("trigger", -REMIND_BEFORE)
        event.add_component(alarm)
    return event
