"""Model of the stored status of clients."""

from __future__ import annotations

from django.db import models
from django.utils.translation import gettext

from reedcore.decisions import Need
from web.clients.models import Client


class ClientStatus(models.Model):
    """A client's status today as the board shows it, computed once per change.

    The database marks it stale when anything it rests on is written (see staleness.py), so
    nothing that happens to a client can be forgotten here; a new day makes it stale as well.
    """

    client = models.OneToOneField(Client, on_delete=models.CASCADE, related_name="status")
    stale = models.BooleanField(default=True)
    #: Time of the calculation; the chart is cached under it.
    computed_at = models.DateTimeField(null=True, db_column="worked_out_at")
    day = models.DateField(null=True)
    need = models.PositiveSmallIntegerField(default=Need.ON_COURSE.value)
    #: Day on which the client was contacted, if there was no answer and no practice since.
    waiting_since = models.DateField(null=True)
    school = models.CharField(max_length=8, blank=True)
    #: Proposals, most pressing first, as codes and figures.
    proposed = models.JSONField(default=list)
    #: Open stops, newest first: flags, time, and whether withdrawn.
    stops = models.JSONField(default=list)
    #: The last fortnight as small reeds.
    fortnight = models.JSONField(default=dict)
    #: The calculation failed: the board says so, and the log has the error under this id.
    fault = models.CharField(max_length=8, blank=True)

    class Meta:
        indexes = [models.Index(fields=["need"])]

    def __str__(self) -> str:
        return gettext("status of {client}").format(client=self.client)

    @property
    def board_need(self) -> Need:
        """Return the group on the board: a client on course may still have to answer."""
        need = Need(self.need)
        return Need.WAITING if need is Need.ON_COURSE and self.waiting_since else need
