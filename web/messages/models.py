"""Models of messages to clients and of the devices that get reminders."""

from __future__ import annotations

from django.conf import settings
from django.contrib.auth.hashers import UNUSABLE_PASSWORD_PREFIX
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


class PushDeviceQuerySet(models.QuerySet["PushDevice"]):
    """Devices that want reminders."""

    def reachable(self) -> PushDeviceQuerySet:
        """Return devices whose practice link is active: a disabled one has no PIN."""
        closed = Q(account__password__startswith=UNUSABLE_PASSWORD_PREFIX)
        return self.filter(account__is_active=True).exclude(closed)


class PushDevice(models.Model):
    """A device of a client that wants reminders."""

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="push_devices")
    #: The account that was signed in on it: when its link is closed, so is this.
    account = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="push_devices"
    )
    endpoint = models.CharField(max_length=1000, unique=True)
    p256dh = models.CharField(max_length=200)
    auth = models.CharField(max_length=100)
    added_at = models.DateTimeField(auto_now_add=True)
    #: When its push service last took a reminder.
    reached_at = models.DateTimeField(null=True)

    objects = PushDeviceQuerySet.as_manager()

    def __str__(self) -> str:
        return gettext("a device of {client}").format(client=self.client)
