"""What was decided about a proposal, and what came of it."""

from django.conf import settings
from django.db import models

from web.clients.models import Client
from web.programmes.models import PrescribedTask, Programme


class Decision(models.Model):
    """A proposal that was taken, or refused with a reason; refused, it waits for new evidence."""

    class Why(models.TextChoices):
        TOO_SOON = "too_soon", "too soon"
        OTHER_PLAN = "other_plan", "another plan"
        MISLEADING = "misleading", "the figures mislead"
        CLIENTS_WISH = "clients_wish", "the client’s wish"

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="decisions")
    task = models.ForeignKey(PrescribedTask, on_delete=models.PROTECT, related_name="decisions")
    step = models.CharField(max_length=20)
    because = models.CharField(max_length=24)
    facts = models.JSONField(default=dict)
    rests_on = models.JSONField(default=list)
    accepted = models.BooleanField()
    why = models.CharField(max_length=16, blank=True, choices=Why)
    decided_at = models.DateTimeField()
    decided_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    #: The version that an accepted one made; none where it changes nothing in the programme.
    made = models.ForeignKey(Programme, on_delete=models.PROTECT, null=True, related_name="+")

    class Meta:
        ordering = ["-decided_at", "-pk"]
        indexes = [models.Index(fields=["client", "-decided_at"])]

    def __str__(self):
        return f"{self.step}, {'accepted' if self.accepted else 'refused'}"
