"""Model of messages to a client, shown after practice."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from web.clients.models import Client


class PracticeMessage(models.Model):
    """A short message to the client, shown on the client's own pages; no email is sent."""

    MOST_CHARACTERS = 300

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="practice_messages")
    text = models.CharField(max_length=MOST_CHARACTERS)
    written_at = models.DateTimeField(auto_now_add=True)
    written_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )

    class Meta:
        ordering = ["-written_at", "-pk"]
        indexes = [models.Index(fields=["client", "written_at"])]

    def __str__(self) -> str:
        return f"{self.client}: {self.text}"
