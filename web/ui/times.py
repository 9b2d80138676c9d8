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
    """Now; a column's default that goes by whatever clock the rest goes by."""
    return timezone.now()


def within(field: str, *, of: str, name: str) -> CheckConstraint:
    """That a time lies between the earliest there can be and a day after it was received."""
    told = Q(**{f"{field}__gte": EARLIEST}) & Q(**{f"{field}__lte": F(of) + AHEAD})
    return CheckConstraint(condition=Q(**{f"{field}__isnull": True}) | told, name=name)
