"""Models of completed jobs, so that each runs once."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy


class Digest(models.Model):
    """A weekly digest that was sent to a clinician."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    week = models.DateField()
    sent_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "week"], name="one_digest_a_week")]

    def __str__(self) -> str:
        return gettext("digest of {week}").format(week=self.week)


class JobRun(models.Model):
    """A run of a job that the administrator has to know about, and its outcome."""

    class Job(models.TextChoices):
        BACKUP = "backup", gettext_lazy("a backup")
        MAIL = "mail", gettext_lazy("a mail sent to ourselves")

    job = models.CharField(max_length=12, choices=Job, db_column="what")
    finished_at = models.DateTimeField(default=timezone.now, db_column="at")
    succeeded = models.BooleanField()
    #: The result: rows written, emails sent, or the error.
    message = models.CharField(max_length=500, blank=True, db_column="words")

    class Meta:
        db_table = "scheduled_run"
        ordering = ["-finished_at", "-pk"]
        indexes = [models.Index(fields=["job", "finished_at"])]

    def __str__(self) -> str:
        return gettext("{what} of {at:%Y-%m-%d %H:%M}").format(what=self.job, at=self.finished_at)
