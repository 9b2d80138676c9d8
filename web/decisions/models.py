"""What was decided, by which thresholds, and where each client stands."""

from __future__ import annotations

from django.db import models
from django.utils.translation import gettext

from web.clients.models import Client


class ClientStatus(models.Model):
    """Where a client stands today: what the board shows, worked out once and not at each look.

    The database marks it stale when anything it rests on is written (see staleness.py), so
    nothing that happens to a client can be forgotten here; a new day makes it stale as well.
    """

    client = models.OneToOneField(Client, on_delete=models.CASCADE, related_name="status")
    stale = models.BooleanField(default=True)
    #: When; what is drawn of it is kept under this moment.
    worked_out_at = models.DateTimeField(null=True)
    day = models.DateField(null=True)
    need = models.PositiveSmallIntegerField(default=4)
    school = models.CharField(max_length=8, blank=True)
    #: What is proposed, the most pressing first, as codes and figures.
    proposed = models.JSONField(default=list)
    #: The stops that no clinician has dealt with, the newest first: flags, when, and whether taken
    #: back.
    stops = models.JSONField(default=list)
    #: The last fortnight as small reeds.
    fortnight = models.JSONField(default=dict)
    #: It could not be worked out: the board says so, and the fault is in the log under this id.
    fault = models.CharField(max_length=8, blank=True)

    class Meta:
        indexes = [models.Index(fields=["need"])]

    def __str__(self) -> str:
        return gettext("status of {client}").format(client=self.client)
