"""Models of prescriptions: numbered versions, each fixed once it is published."""

from __future__ import annotations

from functools import cached_property

from django.conf import settings
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.utils.translation import gettext, gettext_lazy

from reedcore.measures import kind_of
from reedcore.pitch.notes import HIGHEST_MIDI, LOWEST_MIDI
from reedcore.programme.document_values import programme_from
from reedcore.programme.programme import Programme
from reedcore.targets import SecondsKind
from reedcore.targets.judging import LONGEST_TARGET_S, SHORTEST_TARGET_S
from web.clients.models import Client


class ProgrammeVersion(models.Model):
    """A version of a client's programme. Every change creates a new version."""

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="programmes")
    version = models.PositiveIntegerField()
    published_at = models.DateTimeField()
    published_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    #: The whole document; empty if a single held sound was prescribed.
    document = models.JSONField(default=dict)
    reason = models.TextField(gettext_lazy("reason for this version"), blank=True)
    #: For a single held sound: accepted stops with their reasons.
    overrules = models.JSONField(default=dict, blank=True)
    #: Findings since the record changed, as sentences; empty if there are none.
    concerns = models.JSONField(default=list, blank=True)
    #: When the version was withdrawn; later results for it are kept.
    withdrawn_at = models.DateTimeField(null=True, blank=True)
    withdrawn_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )

    class Meta:
        db_table = "programmes_programme"
        ordering = ["-version"]
        constraints = [
            models.UniqueConstraint(fields=["client", "version"], name="one_version_of_a_number")
        ]

    def __str__(self) -> str:
        return gettext("programme {version} of {client}").format(
            version=self.version, client=self.client
        )

    @cached_property
    def prescribed(self) -> Programme | None:
        """Return the whole programme as a value; None for a single held sound."""
        return programme_from(self.document) if self.document else None

    @property
    def overruled_stops(self) -> dict:
        """Return the overruled stops by key, each with its reason."""
        return self.document.get("overrules", {}) if self.document else self.overrules


class PrescribedTask(models.Model):
    """A task on one note (or on any), which trials and results refer to.

    A held sound has seconds; of another measure the document's item says what is asked.
    """

    HOLD = "hold"

    class Sound(models.TextChoices):
        OH = "oh", gettext_lazy("oh")
        AH = "ah", gettext_lazy("ah")
        OO = "oo", gettext_lazy("oo")
        EE = "ee", gettext_lazy("ee")
        MEE = "mee", gettext_lazy("mee")
        HUM = "hum", gettext_lazy("hum")

    class Counts(models.TextChoices):
        TOTAL = SecondsKind.TOTAL.value, gettext_lazy("total duration")
        STEADY = SecondsKind.STEADY.value, gettext_lazy("steady duration")

    programme = models.ForeignKey(ProgrammeVersion, on_delete=models.PROTECT, related_name="tasks")
    position = models.PositiveSmallIntegerField(default=1)
    task_code = models.CharField(max_length=40, blank=True)
    item_id = models.CharField(max_length=40, blank=True)
    measure = models.CharField(max_length=12, default=HOLD)
    sound = models.CharField(max_length=40, choices=Sound, default=Sound.OH)
    note_midi = models.PositiveSmallIntegerField(
        null=True,
        blank=True,
        validators=[MinValueValidator(LOWEST_MIDI), MaxValueValidator(HIGHEST_MIDI)],
    )
    target_s = models.FloatField(
        null=True,
        validators=[MinValueValidator(SHORTEST_TARGET_S), MaxValueValidator(LONGEST_TARGET_S)],
    )
    counts = models.CharField(max_length=8, choices=Counts, default=Counts.TOTAL)
    tries = models.PositiveSmallIntegerField(
        default=5, validators=[MinValueValidator(1), MaxValueValidator(30)]
    )

    class Meta:
        db_table = "programmes_prescribedtask"
        ordering = ["position"]
        constraints = [
            models.UniqueConstraint(fields=["programme", "position"], name="one_task_a_place")
        ]

    def __str__(self) -> str:
        if not kind_of(self.measure).can_be_steady:
            return self.task_code
        return gettext("hold {sound} for {target_s:g} s").format(
            sound=self.sound, target_s=self.target_s
        )
