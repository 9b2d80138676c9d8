"""The baseline sheet, the clinic's reference figures, and the targets that were decided."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils.translation import gettext, gettext_lazy
from simple_history.models import HistoricalRecords

from web.accounts.models import Clinic
from web.clients.models.client import Client


class ReferenceFigure(models.Model):
    """A row of the clinic's reference table."""

    clinic = models.ForeignKey(Clinic, on_delete=models.CASCADE, related_name="reference_figures")
    measure = models.CharField(max_length=24)
    age_band = models.CharField(max_length=8, choices=Client.AgeBand, blank=True)
    voice = models.CharField(max_length=8, choices=Client.Voice, blank=True)
    low = models.FloatField(gettext_lazy("usual from"), null=True, blank=True)
    high = models.FloatField(gettext_lazy("usual to"), null=True, blank=True)
    source = models.CharField("source", max_length=200, blank=True)
    history = HistoricalRecords(table_name="clients_historicalreferencefigure")

    class Meta:
        db_table = "clients_referencefigure"
        ordering = ["measure", "age_band", "voice"]
        constraints = [
            models.UniqueConstraint(
                fields=["clinic", "measure", "age_band", "voice"], name="one_reference_a_group"
            )
        ]

    def __str__(self) -> str:
        return f"{self.measure} {self.age_band} {self.voice}".strip()


class Baseline(models.Model):
    """A baseline sheet with all its trials."""

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="baselines")
    begun_at = models.DateTimeField()
    begun_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    closed_at = models.DateTimeField(null=True)
    distance_m = models.FloatField(default=0.30)
    #: Typed figures and texts by code: what was taken, effort, ratings, comfortable range.
    entries = models.JSONField(default=dict)
    history = HistoricalRecords(table_name="clients_historicalbaseline")

    class Meta:
        db_table = "clients_baseline"
        ordering = ["-begun_at", "-pk"]

    def __str__(self) -> str:
        return gettext("baseline of {client}, {begun_at:%Y-%m-%d}").format(
            client=self.client, begun_at=self.begun_at
        )


class BaselineTrial(models.Model):
    """One recorded trial at one step; figures that could not be measured are left out."""

    class Source(models.TextChoices):
        MICROPHONE = "microphone", gettext_lazy("microphone")
        SIMULATED = "simulated", gettext_lazy("simulated")
        FILE = "file", gettext_lazy("recording")
        TYPED = "typed", gettext_lazy("typed")

    key = models.UUIDField(primary_key=True, editable=False)
    baseline = models.ForeignKey(Baseline, on_delete=models.PROTECT, related_name="trials")
    step = models.CharField(max_length=16)
    source = models.CharField(max_length=12, choices=Source)
    made_at = models.DateTimeField()
    figures = models.JSONField(default=dict)
    reasons = models.JSONField(default=list)
    capture = models.JSONField(default=dict)
    snr_db = models.FloatField(null=True)
    note = models.CharField(max_length=300, blank=True)
    discarded_at = models.DateTimeField(null=True)
    chosen = models.BooleanField(gettext_lazy("chosen instead of the best"), default=False)
    chosen_because = models.CharField(max_length=300, blank=True)
    history = HistoricalRecords(table_name="clients_historicalbaselinetrial")

    class Meta:
        db_table = "clients_baselinetrial"
        ordering = ["made_at", "key"]
        indexes = [models.Index(fields=["baseline", "step"])]

    def __str__(self) -> str:
        return f"{self.step}, {self.made_at:%Y-%m-%d %H:%M}"


class Target(models.Model):
    """A decision about one kind of target, with its inputs."""

    class Decision(models.TextChoices):
        ACCEPTED = "accepted", gettext_lazy("accepted")
        CHANGED = "changed", gettext_lazy("changed")
        REFUSED = "refused", gettext_lazy("refused")

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="targets")
    baseline = models.ForeignKey(Baseline, on_delete=models.PROTECT, related_name="targets")
    kind = models.CharField(max_length=16)
    rule = models.CharField(max_length=24)
    decision = models.CharField(max_length=10, choices=Decision)
    values = models.JSONField()
    proposed = models.JSONField()
    inputs = models.JSONField()
    counts = models.CharField(gettext_lazy("seconds counted"), max_length=8, blank=True)
    reason = models.TextField(blank=True)
    decided_at = models.DateTimeField()
    decided_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )

    class Meta:
        db_table = "clients_target"
        ordering = ["-decided_at", "-pk"]
        indexes = [models.Index(fields=["client", "kind", "-decided_at"])]

    def __str__(self) -> str:
        return gettext("{kind} of {client}: {decision}").format(
            kind=self.kind, client=self.client, decision=self.decision
        )
