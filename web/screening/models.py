"""Models of screenings and of stops that clients report."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.db.models import Q
from django.utils.translation import gettext, gettext_lazy
from simple_history.models import HistoricalRecords

from reedcore.safety import ASKED, Caution
from web.clients.models.client import Client
from web.ui.times import moment, within


class Screen(models.Model):
    """A screening for red flags. The newest one counts; none is ever changed."""

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="screens")
    asked_at = models.DateTimeField()
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    flags = models.JSONField(gettext_lazy("red flags reported"), default=list)
    #: Cautions that the form asked about at the time; questions are added over the years.
    asked = models.JSONField(gettext_lazy("cautions asked about"), default=list)
    note = models.TextField(blank=True)
    safe_because = models.TextField(gettext_lazy("why it is safe to continue"), blank=True)
    safe_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    safe_at = models.DateTimeField(null=True)
    referred_at = models.DateTimeField(null=True)
    referred_to = models.CharField(max_length=160, blank=True)
    history = HistoricalRecords(table_name="clients_historicalscreen")

    class Meta:
        db_table = "clients_screen"
        ordering = ["-asked_at", "-pk"]

    def __str__(self) -> str:
        return gettext("screen of {client}, {asked_at:%Y-%m-%d}").format(
            client=self.client, asked_at=self.asked_at
        )

    @property
    def cautions_not_asked(self) -> frozenset[Caution]:
        """Return questions about cautions that were added after this screening."""
        return frozenset(each for each in ASKED if each.value not in self.asked)

    @property
    def open_flags(self) -> list[str]:
        """Return the open flags: those without a reason why practice is safe."""
        return [] if self.safe_because else self.flags


class Stop(models.Model):
    """A problem that the client reported, during practice or when asked.

    One that pauses the programme does so until a clinician has cleared it with a note.
    """

    key = models.UUIDField(primary_key=True, editable=False)
    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="stops")
    session_key = models.UUIDField(null=True)
    flags = models.JSONField()
    tier = models.CharField(max_length=20)
    pauses = models.BooleanField()
    comment = models.CharField(max_length=500, blank=True)
    said_at = models.DateTimeField()
    #: Arrival time: deadlines count from here, never from the device's clock.
    received_at = models.DateTimeField(default=moment, editable=False)
    #: The device's clock, if it differed.
    device_time = models.CharField(max_length=40, blank=True)
    #: Whether people are alerted, whom, when it was delivered, and why not.
    needs_alert = models.BooleanField(default=False, db_column="tells")
    recipients = models.JSONField(default=list, db_column="told")
    delivered_at = models.DateTimeField(null=True)
    delivery_problem = models.CharField(max_length=16, blank=True, db_column="trouble")
    #: When the client reported that it was pressed by mistake.
    cancelled_at = models.DateTimeField(null=True, db_column="taken_back_at")
    #: When clinic staff first opened a page that shows it.
    read_at = models.DateTimeField(null=True)
    read_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    #: When the clinic lead was alerted that it is unread.
    escalated_at = models.DateTimeField(null=True, db_column="passed_on_at")
    cleared_at = models.DateTimeField(null=True)
    cleared_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    cleared_because = models.TextField(blank=True)
    history = HistoricalRecords(table_name="clients_historicalstop")

    class Meta:
        db_table = "clients_stop"
        ordering = ["-said_at", "key"]
        indexes = [
            models.Index(fields=["client", "cleared_at"]),
            models.Index(
                fields=["received_at"],
                condition=Q(needs_alert=True, delivered_at=None),
                name="stops_to_deliver",
            ),
        ]
        constraints = [within("said_at", of="received_at", name="stop_said_when_it_can_be")]

    def __str__(self) -> str:
        return gettext("stop of {client}, {said_at:%Y-%m-%d %H:%M}").format(
            client=self.client, said_at=self.said_at
        )
