"""Limit how often something may be done in a period, across all processes.

The counts stand in the database, for there are several processes; who or what is counted stands
there as a digest, because an address or a mistyped name is private.
"""

import hashlib
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from django.db.models import F
from django.utils import timezone

from .models import AttemptCount


@dataclass(frozen=True)
class Limit:
    """A limit: this many attempts in a window of seconds."""

    what: str
    most: int
    window_s: int


def is_within_limit(limit: Limit, whose: object = "") -> bool:
    """Count once, and return whether that was within the limit."""
    counted, made = AttemptCount.objects.get_or_create(
        key=_digest(limit, whose), window=_window(limit), defaults={"count": 1}
    )
    if made:
        return True
    AttemptCount.objects.filter(pk=counted.pk).update(count=F("count") + 1)
    return counted.count < limit.most


def is_first(limit: Limit, whose: object = "") -> bool:
    """Count once, and return whether it was the first time, over the end of a window too."""
    before = _window(limit) - timedelta(seconds=limit.window_s)
    was_before = AttemptCount.objects.filter(key=_digest(limit, whose), window=before).exists()
    return is_within_limit(limit, whose) and not was_before


def is_exhausted(limit: Limit, whose: object = "") -> bool:
    """Return whether the limit has been reached, without counting."""
    found = AttemptCount.objects.filter(key=_digest(limit, whose), window=_window(limit)).first()
    return found is not None and found.count >= limit.most


def _digest(limit: Limit, whose: object) -> str:
    return hashlib.sha256(f"{limit.what}/{whose}".encode()).hexdigest()[:40]


def _window(limit: Limit) -> datetime:
    """Return when the current window of this limit began."""
    now = timezone.now().timestamp()
    return datetime.fromtimestamp(now // limit.window_s * limit.window_s, UTC)


def forget_old_counts() -> None:
    """Delete windows that ended long ago."""
    AttemptCount.objects.filter(window__lt=timezone.now() - timedelta(days=2)).delete()
