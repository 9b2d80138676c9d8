"""A clinic's own part of the catalogue: tasks of its own, and shipped ones it hides."""

from django.db import models
from simple_history.models import HistoricalRecords

from reedcore.catalogue.schema import FAMILIES
from web.accounts.models import Clinic


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

    def __str__(self):
        return self.code


class HiddenTask(models.Model):
    """A shipped task that a clinic does not want offered."""

    clinic = models.ForeignKey(Clinic, on_delete=models.CASCADE, related_name="hidden_tasks")
    code = models.CharField(max_length=40)

    class Meta:
        ordering = ["code"]
        constraints = [models.UniqueConstraint(fields=["clinic", "code"], name="hidden_only_once")]

    def __str__(self):
        return self.code
