"""A clinic's part of the catalogue: its own tasks, and hidden shipped ones."""

from __future__ import annotations

from django.db import models
from django.utils.translation import gettext_lazy
from simple_history.models import HistoricalRecords

from reedcore.catalogue.schema import FAMILIES
from web.accounts.models import Clinic, User


class OwnTask(models.Model):
    """A task that a clinic wrote for itself, in the shape of the shipped ones."""

    clinic = models.ForeignKey(Clinic, on_delete=models.CASCADE, related_name="own_tasks")
    code = models.CharField(max_length=40)
    family = models.CharField(max_length=16, choices=list(FAMILIES.items()))
    data = models.JSONField()
    history = HistoricalRecords()

    class Meta:
        ordering = ["code"]
        constraints = [
            models.UniqueConstraint(fields=["clinic", "code"], name="one_own_task_of_a_code")
        ]

    def __str__(self) -> str:
        return self.code


class HiddenTask(models.Model):
    """A shipped task that a clinic does not want offered."""

    clinic = models.ForeignKey(Clinic, on_delete=models.CASCADE, related_name="hidden_tasks")
    code = models.CharField(max_length=40)

    class Meta:
        ordering = ["code"]
        constraints = [models.UniqueConstraint(fields=["clinic", "code"], name="hidden_only_once")]

    def __str__(self) -> str:
        return self.code


class LibraryEntry(models.Model):
    """A programme, or lines to say, that a clinic keeps to use again.

    Keeping something under a name that is there already makes its next version; older ones stay.
    """

    class Kind(models.TextChoices):
        PROGRAMME = "programme", gettext_lazy("programme")
        LINES = "lines", gettext_lazy("lines to say")

    clinic = models.ForeignKey(Clinic, on_delete=models.CASCADE, related_name="library")
    kind = models.CharField(max_length=12, choices=Kind)
    name = models.CharField(max_length=60)
    version = models.PositiveSmallIntegerField(default=1)
    data = models.JSONField()
    #: Shared with the clinic; otherwise only its author can use it.
    shared = models.BooleanField(default=True)
    author = models.ForeignKey(
        User, on_delete=models.PROTECT, related_name="kept_in_library", db_column="by_id"
    )
    created_at = models.DateTimeField(auto_now_add=True, db_column="at")
    #: No longer offered.
    archived_at = models.DateTimeField(null=True, db_column="put_away_at")

    class Meta:
        ordering = ["name", "-version"]
        constraints = [
            models.UniqueConstraint(
                fields=["clinic", "kind", "name", "author", "version"], name="one_library_version"
            )
        ]

    def __str__(self) -> str:
        return f"{self.name}, {self.version}"


class Picture(models.Model):
    """A picture or a map to speak about, checked and made small enough."""

    clinic = models.ForeignKey(Clinic, on_delete=models.CASCADE, related_name="pictures")
    name = models.CharField(max_length=60)
    #: Text alternative for people who cannot see it.
    alt = models.CharField(max_length=300)
    image = models.BinaryField()
    width = models.PositiveSmallIntegerField()
    height = models.PositiveSmallIntegerField()
    author = models.ForeignKey(
        User, on_delete=models.PROTECT, related_name="pictures", db_column="by_id"
    )
    created_at = models.DateTimeField(auto_now_add=True, db_column="at")

    class Meta:
        ordering = ["name", "pk"]

    def __str__(self) -> str:
        return self.name
