"""Times that a device says: bounded by the database too, for one beyond all calendars would break
every page, file and job that reads it."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from django.db.models import CheckConstraint, F, Q
from django.utils import timezone

#: Nothing can be dated before this.
EARLIEST = datetime(2000, 1, 1, tzinfo=UTC)
#: Tolerated clock error into the future.
AHEAD = timedelta(days=1)


def moment() -> datetime:
    """Return the current time; a column default that follows a faked clock."""
    return timezone.now()


def within(field: str, *, of: str, name: str) -> CheckConstraint:
    """Return the constraint that a time is possible and at most a day after receipt."""
    condition = Q(**{f"{field}__gte": EARLIEST}) & Q(**{f"{field}__lte": F(of) + AHEAD})
    return CheckConstraint(condition=Q(**{f"{field}__isnull": True}) | condition, name=name)
