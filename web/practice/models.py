"""What was practised."""

from django.db import models

from reedcore.targets import Verdict
from web.clients.models import Client
from web.programmes.models import PrescribedTask


class Trial(models.Model):
    """One try at a task: the figures as measured, and how they stood against the target that day.

    A figure that could not be measured is null, never zero.
    """

    class Source(models.TextChoices):
        MICROPHONE = "microphone", "microphone"
        SIMULATED = "simulated", "simulated voice"
        FILE = "file", "recording"
        STOPWATCH = "stopwatch", "stopwatch"

    class Outcome(models.TextChoices):
        MET = Verdict.MET.value, "on target"
        NOT_MET = Verdict.NOT_MET.value, "not on target"
        NOT_JUDGED = Verdict.NOT_JUDGED.value, "not judged"

    key = models.UUIDField(
        primary_key=True,
        editable=False,
        help_text="Made where the try was made, so that sending it twice saves it once.",
    )
    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="trials")
    task = models.ForeignKey(PrescribedTask, on_delete=models.PROTECT, related_name="trials")
    performed_at = models.DateTimeField()
    source = models.CharField(max_length=12, choices=Source)

    outcome = models.CharField(max_length=12, choices=Outcome)
    parts = models.JSONField(default=list)

    total_s = models.FloatField(null=True)
    steady_s = models.FloatField(null=True)
    median_hz = models.FloatField(null=True)
    error_cents = models.FloatField(null=True)
    end_error_cents = models.FloatField(null=True)
    share_on_pitch = models.FloatField(null=True)
    spread_cents = models.FloatField(null=True)
    drift_cents = models.FloatField(null=True)
    level_mean_dbfs = models.FloatField(null=True)
    level_slope_db_per_s = models.FloatField(null=True)
    breaks = models.JSONField(default=list)

    recording_s = models.FloatField(null=True)
    sample_rate_hz = models.PositiveIntegerField(null=True)
    noise_floor_dbfs = models.FloatField(null=True)
    snr_db = models.FloatField(null=True)
    clipped_fraction = models.FloatField(null=True)
    reasons = models.JSONField(default=list)
    capture = models.JSONField(default=dict)

    class Meta:
        ordering = ["performed_at", "key"]
        indexes = [
            models.Index(fields=["client", "performed_at"]),
            models.Index(fields=["task", "performed_at"]),
        ]

    def __str__(self):
        return f"try of {self.performed_at:%Y-%m-%d %H:%M}"

    @property
    def drawn_s(self):
        """How tall its reed stands: the seconds its task counts, as the water is measured in them.

        Where steady seconds count but could not be judged, all of them (the reed is then dashed).
        """
        steady = self.task.counts == PrescribedTask.Counts.STEADY
        return self.steady_s if steady and self.steady_s is not None else self.total_s


class Trace(models.Model):
    """A try's pitch and level, one pair each 20 ms (:mod:`reedcore.formats.trace`)."""

    trial = models.OneToOneField(Trial, on_delete=models.CASCADE, primary_key=True)
    packed = models.BinaryField()

    def __str__(self):
        return f"trace of {self.trial_id}"
