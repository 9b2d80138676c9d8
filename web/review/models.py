"""What was decided and written, and where each client stands."""

from django.conf import settings
from django.db import models
from django.db.models import Q
from simple_history.models import HistoricalRecords

from web.clients.models import Client
from web.practice.models import Session
from web.programmes.models import PrescribedTask, Programme


class Decision(models.Model):
    """A proposal that was taken, or refused with a reason; refused, it waits for new evidence."""

    class Why(models.TextChoices):
        TOO_SOON = "too_soon", "too soon"
        OTHER_PLAN = "other_plan", "another plan"
        MISLEADING = "misleading", "the figures mislead"
        CLIENTS_WISH = "clients_wish", "the client’s wish"

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="decisions")
    #: None where it holds for a client who has no programme.
    task = models.ForeignKey(
        PrescribedTask, on_delete=models.PROTECT, related_name="decisions", null=True
    )
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
    #: When it was taken back: it stays on record, and what it rested on is not used again.
    undone_at = models.DateTimeField(null=True)
    undone_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    #: The version that an accepted one made; none where it changes nothing in the programme.
    made = models.ForeignKey(Programme, on_delete=models.PROTECT, null=True, related_name="+")

    class Meta:
        ordering = ["-decided_at", "-pk"]
        indexes = [models.Index(fields=["client", "-decided_at"])]

    def __str__(self):
        return f"{self.step}, {'accepted' if self.accepted else 'refused'}"


class RuleSettings(models.Model):
    """What of the rules' thresholds was changed for one client's programme."""

    client = models.OneToOneField(Client, on_delete=models.CASCADE, related_name="rule_settings")
    changed = models.JSONField(default=dict)
    history = HistoricalRecords()

    def __str__(self):
        return f"rules for {self.client}"


class Standing(models.Model):
    """Where a client stands today: what the board shows, worked out once and not at each look.

    The database itself marks it stale when anything it rests on is written (see the migration), so
    nothing that happens to a client can be forgotten here; a new day makes it stale as well.
    """

    client = models.OneToOneField(Client, on_delete=models.CASCADE, related_name="standing")
    stale = models.BooleanField(default=True)
    day = models.DateField(null=True)
    need = models.PositiveSmallIntegerField(default=4)
    school = models.CharField(max_length=8, blank=True)
    #: What is proposed, the most pressing first, as codes and figures.
    proposed = models.JSONField(default=list)
    #: The last fortnight as small reeds.
    fortnight = models.JSONField(default=dict)
    #: It could not be worked out: the board says so, and the fault is in the log under this id.
    fault = models.CharField(max_length=8, blank=True)

    class Meta:
        indexes = [models.Index(fields=["need"])]

    def __str__(self):
        return f"standing of {self.client}"


class Message(models.Model):
    """What was sent to a client, or is on its way."""

    class Kind(models.TextChoices):
        MISSED = "missed", "a session was missed"
        CHECK_IN = "check_in", "how is it going?"
        CHANGED = "changed", "the programme has changed"

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="messages")
    kind = models.CharField(max_length=10, choices=Kind)
    to = models.CharField(max_length=160)
    words = models.TextField()
    #: The client's own day: there is at most one reminder on it.
    day = models.DateField()
    written_at = models.DateTimeField(auto_now_add=True)
    sent_at = models.DateTimeField(null=True)
    written_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )

    class Meta:
        ordering = ["-written_at", "-pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["client", "day"], condition=Q(kind="missed"), name="one_reminder_a_day"
            )
        ]

    def __str__(self):
        return f"{self.kind} to {self.client}"


class Note(models.Model):
    """What was written about a session or a stretch of time; signed, it stays as it is."""

    class Kind(models.TextChoices):
        SESSION = "session", "session note"
        PROGRESS = "progress", "progress report"
        DISCHARGE = "discharge", "discharge report"
        SPECIALIST = "specialist", "summary for a specialist’s visit"

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="notes")
    kind = models.CharField(max_length=12, choices=Kind)
    session = models.ForeignKey(Session, on_delete=models.PROTECT, null=True, related_name="+")
    first = models.DateField()
    last = models.DateField()
    #: By the part's code, what is written in it.
    words = models.JSONField(default=dict)
    edition = models.PositiveIntegerField(default=1)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    signed_at = models.DateTimeField(null=True)
    signed_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    #: The figures as they stood when it was signed.
    figures = models.JSONField(default=dict)
    history = HistoricalRecords()

    class Meta:
        ordering = ["-last", "-pk"]

    def __str__(self):
        return f"{self.get_kind_display()} for {self.client}"


class Addendum(models.Model):
    """What was added to a signed note."""

    note = models.ForeignKey(Note, on_delete=models.PROTECT, related_name="addenda")
    words = models.TextField()
    added_at = models.DateTimeField(auto_now_add=True)
    added_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )

    class Meta:
        ordering = ["added_at", "pk"]

    def __str__(self):
        return f"addendum to {self.note}"


class Digest(models.Model):
    """That a clinician was sent the week's digest."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    week = models.DateField()
    sent_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "week"], name="one_digest_a_week")]

    def __str__(self):
        return f"digest of {self.week}"
