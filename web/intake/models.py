"""Model of refused entries."""

from __future__ import annotations

from django.db import models
from django.utils.translation import gettext

from web.clients.models import Client
from web.ui.times import moment


class RefusedEntry(models.Model):
    """An entry that was refused, with its kind and the reason, so that the clinic can help.

    The entry stays on the device, where the client can save it to a file.
    """

    client = models.ForeignKey(Client, on_delete=models.CASCADE, related_name="not_taken")
    key = models.CharField(max_length=40)
    kind = models.CharField(max_length=12)
    reason = models.CharField(max_length=120)
    device = models.CharField(max_length=200, blank=True)
    at = models.DateTimeField(default=moment)

    class Meta:
        db_table = "practice_nottaken"
        ordering = ["-at", "-pk"]
        constraints = [models.UniqueConstraint(fields=["client", "key"], name="one_row_an_entry")]

    def __str__(self) -> str:
        return gettext("{kind} of {client}: {reason}").format(
            kind=self.kind, client=self.client, reason=self.reason
        )
