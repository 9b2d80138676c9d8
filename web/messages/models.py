"""Model of messages to clients."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.db.models import Q
from django.utils.translation import gettext, gettext_lazy

from web.clients.models import Client


class Message(models.Model):
    """A message to a client, sent or waiting to be sent."""

    class Kind(models.TextChoices):
        MISSED = "missed", gettext_lazy("missed session")
        CHECK_IN = "check_in", gettext_lazy("check-in")
        CHANGED = "changed", gettext_lazy("programme changed")

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="messages")
    kind = models.CharField(max_length=10, choices=Kind)
    recipient = models.CharField(max_length=160, db_column="to")
    text = models.TextField(db_column="words")
    #: The client's local date, for at most one reminder a day.
    day = models.DateField()
    written_at = models.DateTimeField(auto_now_add=True)
    sent_at = models.DateTimeField(null=True)
    written_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )

    class Meta:
        ordering = ["-written_at", "-pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["client", "day"], condition=Q(kind="missed"), name="one_reminder_a_day"
            )
        ]

    def __str__(self) -> str:
        return gettext("{kind} to {client}").format(kind=self.kind, client=self.client)
