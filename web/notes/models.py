"""Notes and reports: written, signed, and added to."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils.translation import gettext, gettext_lazy
from simple_history.models import HistoricalRecords

from web.clients.models import Client
from web.record.models import Session


class ClinicalNote(models.Model):
    """A note about a session or a period; a signed note never changes."""

    class Kind(models.TextChoices):
        SESSION = "session", gettext_lazy("session note")
        PROGRESS = "progress", gettext_lazy("progress report")
        DISCHARGE = "discharge", gettext_lazy("discharge report")
        SPECIALIST = "specialist", gettext_lazy("summary for a specialist visit")

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="notes")
    kind = models.CharField(max_length=12, choices=Kind)
    session = models.ForeignKey(Session, on_delete=models.PROTECT, null=True, related_name="+")
    first = models.DateField()
    last = models.DateField()
    #: Text by part.
    words = models.JSONField(default=dict)
    edition = models.PositiveIntegerField(default=1)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    signed_at = models.DateTimeField(null=True)
    signed_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    #: Figures at the time of signing.
    figures = models.JSONField(default=dict)
    history = HistoricalRecords(table_name="notes_historicalnote")

    class Meta:
        db_table = "notes_note"
        ordering = ["-last", "-pk"]

    def __str__(self) -> str:
        return gettext("{kind} for {client}").format(
            kind=self.get_kind_display(), client=self.client
        )


class Addendum(models.Model):
    """An addendum to a signed note."""

    note = models.ForeignKey(ClinicalNote, on_delete=models.PROTECT, related_name="addenda")
    words = models.TextField()
    added_at = models.DateTimeField(auto_now_add=True)
    added_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )

    class Meta:
        ordering = ["added_at", "pk"]

    def __str__(self) -> str:
        return gettext("addendum to {note}").format(note=self.note)
