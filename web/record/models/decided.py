"""Models of decisions and of the thresholds they use."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils.translation import gettext, gettext_lazy
from simple_history.models import HistoricalRecords

from web.clients.models import Client
from web.record.models.prescribed import PrescribedTask, ProgrammeVersion


class Decision(models.Model):
    """An accepted proposal, or one refused with a reason, which waits for new evidence."""

    class RefusalReason(models.TextChoices):
        TOO_SOON = "too_soon", gettext_lazy("too soon")
        OTHER_PLAN = "other_plan", gettext_lazy("another plan")
        MISLEADING = "misleading", gettext_lazy("results are misleading")
        CLIENTS_WISH = "clients_wish", gettext_lazy("client preference")

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="decisions")
    #: Empty for a client without a programme.
    task = models.ForeignKey(
        PrescribedTask, on_delete=models.PROTECT, related_name="decisions", null=True
    )
    step = models.CharField(max_length=20)
    reason = models.CharField(max_length=24)
    facts = models.JSONField(default=dict)
    evidence = models.JSONField(default=list, db_column="rests_on")
    accepted = models.BooleanField()
    refusal_reason = models.CharField(max_length=16, blank=True, choices=RefusalReason)
    decided_at = models.DateTimeField()
    decided_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    #: When it was undone: it stays on record, and its evidence is not used again.
    undone_at = models.DateTimeField(null=True)
    undone_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    #: The version that accepting it created; None if the programme did not change.
    created_version = models.ForeignKey(
        ProgrammeVersion,
        on_delete=models.PROTECT,
        null=True,
        related_name="+",
        db_column="made_id",
    )

    class Meta:
        db_table = "decisions_decision"
        ordering = ["-decided_at", "-pk"]
        indexes = [models.Index(fields=["client", "-decided_at"])]

    def __str__(self) -> str:
        return f"{self.step}, {'accepted' if self.accepted else 'refused'}"


class RuleSettings(models.Model):
    """Thresholds of the rules that differ from the default for one client."""

    client = models.OneToOneField(Client, on_delete=models.CASCADE, related_name="rule_settings")
    changed = models.JSONField(default=dict)
    history = HistoricalRecords(table_name="decisions_historicalrulesettings")

    class Meta:
        db_table = "decisions_rulesettings"

    def __str__(self) -> str:
        return gettext("rules for {client}").format(client=self.client)
