"""Which epoch holds, and how a new one begins."""

from datetime import datetime, timedelta

from django.conf import settings
from django.utils import timezone

from .models import Epoch


def epoch() -> Epoch:
    """Return the epoch that holds; the first one is made when it is first asked for."""
    return Epoch.objects.first() or Epoch.objects.create()


def begin_epoch(restored_to: datetime) -> Epoch:
    """Begin a new one, after a restore to this moment."""
    return Epoch.objects.create(restored_to=restored_to)


def recent_restore() -> Epoch | None:
    """Return the epoch that holds where a restore began it, for as long as devices may still bring
    what the restored records lack."""
    newest = Epoch.objects.exclude(restored_to=None).first()
    since = timezone.now() - timedelta(days=settings.DEVICE_KEEPS_DAYS)
    return newest if newest and newest.began_at > since else None
