"""The entry that remains of an erased record."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils.translation import gettext

from web.accounts.models import Clinic


class Erasure(models.Model):
    """A planned, cancelled or completed erasure: the only row that remains."""

    clinic = models.ForeignKey(Clinic, on_delete=models.PROTECT, related_name="erasures")
    #: The client's number, not a foreign key: the record is deleted.
    record = models.PositiveBigIntegerField()
    reason = models.CharField(max_length=500, db_column="why")
    #: None if the erasure follows from the retention period.
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    asked_at = models.DateTimeField(auto_now_add=True)
    due_at = models.DateTimeField()
    cancelled_at = models.DateTimeField(null=True, db_column="taken_back_at")
    cancelled_by = models.ForeignKey(
        settings.AUTH_USER_MODEL,
        on_delete=models.PROTECT,
        null=True,
        related_name="+",
        db_column="taken_back_by_id",
    )
    done_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-asked_at"]
        constraints = [
            models.UniqueConstraint(
                fields=["record"],
                condition=models.Q(cancelled_at=None, done_at=None),
                name="one_erasure_waits_for_a_record",
            )
        ]

    def __str__(self) -> str:
        return gettext("record {record}").format(record=self.record)
