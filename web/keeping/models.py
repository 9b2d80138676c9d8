"""Since when the records are one unbroken line: the site's beginning, or its last restore."""

from __future__ import annotations

import uuid

from django.db import models
from django.utils import timezone


class Epoch(models.Model):
    """A period between restores; the newest row is the current one.

    A device remembers in which epoch the clinic acknowledged what it sent. A new one tells it to
    offer the same again, for a restored database may not have it.
    """

    key = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    began_at = models.DateTimeField(default=timezone.now)
    #: When the restored backup was made; None for the first epoch.
    restored_to = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-began_at", "-pk"]

    def __str__(self) -> str:
        return f"epoch since {self.began_at:%Y-%m-%d %H:%M}"
