"""What the clock has done already, so that it does it once."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy


class Digest(models.Model):
    """That a clinician was sent the week's digest."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    week = models.DateField()
    sent_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "week"], name="one_digest_a_week")]

    def __str__(self) -> str:
        return gettext("digest of {week}").format(week=self.week)


class Run(models.Model):
    """That something was done which whoever runs the site has to know of, and how it went."""

    class What(models.TextChoices):
        BACKUP = "backup", gettext_lazy("a backup")
        MAIL = "mail", gettext_lazy("a mail sent to ourselves")

    what = models.CharField(max_length=12, choices=What)
    at = models.DateTimeField(default=timezone.now)
    succeeded = models.BooleanField()
    #: What was written or sent, or why not.
    words = models.CharField(max_length=500, blank=True)

    class Meta:
        ordering = ["-at", "-pk"]
        indexes = [models.Index(fields=["what", "at"])]

    def __str__(self) -> str:
        return gettext("{what} of {at:%Y-%m-%d %H:%M}").format(what=self.what, at=self.at)
