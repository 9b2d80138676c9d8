"""Corrects a device's clock: times are shifted, limited, and the error is stored with the
result."""

from dataclasses import dataclass
from datetime import UTC, datetime, time, timedelta
from typing import Any

from web.record.models import ProgrammeVersion

#: Ignore smaller clock errors.
NOTED = timedelta(minutes=2)
#: Accept practice this long before a version was published: it may have been taught the day before.
BEFORE_ITS_START = timedelta(days=1)


@dataclass(frozen=True)
class Moment:
    """A time by the device and by the server.

    Attributes:
        at: as this clock has it, never in the future and never before the programme.
        device_time: what the device's clock said, where that was another time.
    """

    at: datetime
    device_time: str = ""


@dataclass(frozen=True)
class Clock:
    """A device's clock, found from when it says that it sent something.

    Attributes:
        now: when that came here.
        off: what has to be added to the device's times.
    """

    now: datetime
    off: timedelta

    @classmethod
    def of(cls, sent_at: Any, *, now: datetime) -> "Clock":
        """Return a clock set by the device's "now"; without one its times are used unchanged."""
        sent = _parse_time(sent_at)
        return cls(now, now - sent if sent else timedelta())

    @property
    def noted_s(self) -> int | None:
        """Return the clock error in whole seconds, if it is notable."""
        return round(self.off.total_seconds()) if abs(self.off) > NOTED else None

    def moment(self, text: Any, *, since: datetime) -> Moment:
        """Return a device's time corrected. An impossible one becomes the arrival time: no result
        is lost to a clock, and none lies outside its programme.

        Args:
            since: when the programme began.
        """
        parsed = _parse_time(text)
        at = parsed and _sum(parsed, self.off)
        if at is None or not since - BEFORE_ITS_START <= at <= self.now:
            at = self.now
        apart = parsed is None or abs(parsed - at) > NOTED
        return Moment(at, str(text)[:40] if apart else "")


def beginning_of(programme: ProgrammeVersion) -> datetime:
    """Return when a version could be practised first: it was published, or its dose begins."""
    began = programme.published_at
    if programme.prescribed is None:
        return began
    start = datetime.combine(programme.prescribed.dose.start, time(), UTC)
    return min(began, start)


def _parse_time(text: Any) -> datetime | None:
    """Return a time with its zone, in UTC; None if it is not one."""
    try:
        parsed = datetime.fromisoformat(text)
        return parsed.astimezone(UTC) if parsed.tzinfo else None
    except (TypeError, ValueError, OverflowError):
        return None


def _sum(moment: datetime, off: timedelta) -> datetime | None:
    try:
        return moment + off
    except OverflowError:
        return None
