"""Which epoch holds, and how a new one begins."""

from datetime import datetime, timedelta

from django.conf import settings
from django.utils import timezone

from .models import Epoch


def epoch() -> Epoch:
    """Return the current epoch; create the first one if necessary."""
    return Epoch.objects.first() or Epoch.objects.create()


def begin_epoch(restored_to: datetime) -> Epoch:
    """Begin a new one, after a restore to this moment."""
    return Epoch.objects.create(restored_to=restored_to)


def recent_restore() -> Epoch | None:
    """Return the current epoch if a restore began it, as long as devices may still send entries
    that the restored records lack."""
    newest = Epoch.objects.exclude(restored_to=None).first()
    since = timezone.now() - timedelta(days=settings.DEVICE_KEEPS_DAYS)
    return newest if newest and newest.began_at > since else None
