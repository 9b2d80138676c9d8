"""What the clock has done already, so that it does it once."""

from django.conf import settings
from django.db import models


class Digest(models.Model):
    """That a clinician was sent the week's digest."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    week = models.DateField()
    sent_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "week"], name="one_digest_a_week")]

    def __str__(self):
        return f"digest of {self.week}"
