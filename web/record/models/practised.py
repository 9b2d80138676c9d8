"""Models of practice: sessions, trials, self-reports."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.db import models
from django.db.models.functions import Now
from django.utils.translation import gettext, gettext_lazy

from reedcore.dose.today import Day, SessionType, Voice
from reedcore.targets import Verdict
from web.clients.models import Client, Helper
from web.record.models.prescribed import PrescribedTask, ProgrammeVersion
from web.ui.times import moment, within


def clinic_now() -> Any:
    """Return when something came here, by the clinic's own clock."""
    return models.DateTimeField(default=moment, db_default=Now(), editable=False)


def device_time() -> Any:
    """Return the time of the device's own clock, if it differed."""
    return models.CharField(max_length=40, blank=True, default="")


class Session(models.Model):
    """A session, started on a device under one version of the programme."""

    class Place(models.TextChoices):
        HOME = "home", gettext_lazy("at home")
        CLINIC = "clinic", gettext_lazy("in the clinic")
        PAPER = "paper", gettext_lazy("from paper")

    class Ending(models.TextChoices):
        DONE = "done", gettext_lazy("completed")
        LEFT = "left", gettext_lazy("ended early")
        STOPPED = "stopped", gettext_lazy("stopped")

    key = models.UUIDField(primary_key=True, editable=False)
    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="sessions")
    programme = models.ForeignKey(
        ProgrammeVersion, on_delete=models.PROTECT, related_name="sessions"
    )
    sort = models.CharField(
        max_length=8, choices=[(each.value, each.value) for each in SessionType]
    )
    day = models.CharField(max_length=8, choices=[(each.value, each.value) for each in Day])
    voice = models.CharField(
        max_length=10, blank=True, choices=[(each.value, each.value) for each in Voice]
    )
    place = models.CharField(max_length=8, choices=Place, default=Place.HOME)
    begun_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)
    received_at = clinic_now()
    #: When its end arrived, possibly days after its beginning.
    end_received_at = models.DateTimeField(null=True)
    device_time = device_time()
    ending = models.CharField(max_length=8, choices=Ending, blank=True)
    #: How many of today's items were done, of how many.
    items_done = models.PositiveSmallIntegerField(default=0)
    items_planned = models.PositiveSmallIntegerField(default=0)
    hours_since_medication = models.FloatField(null=True)
    device = models.CharField(max_length=200, blank=True)
    #: Clock error of the device, if notable.
    clock_off_s = models.IntegerField(null=True)
    #: When a device last began it or went on with it; the newest of a client is the one in use.
    claimed_at = models.DateTimeField(null=True)
    led_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    #: The helper who took part.
    helper = models.ForeignKey(Helper, on_delete=models.PROTECT, null=True, related_name="sessions")

    class Meta:
        db_table = "practice_session"
        ordering = ["begun_at", "key"]
        indexes = [models.Index(fields=["client", "begun_at"])]
        constraints = [
            within("begun_at", of="received_at", name="session_begun_when_it_can_be"),
            within("ended_at", of="end_received_at", name="session_ended_when_it_can_be"),
        ]

    def __str__(self) -> str:
        return gettext("session of {begun_at:%Y-%m-%d %H:%M}").format(begun_at=self.begun_at)


class TrialQuerySet(models.QuerySet["Trial"]):
    """Trials, with or without those that were set aside."""

    def counted(self) -> TrialQuerySet:
        """Return the trials that count: those that neither client nor clinician set aside."""
        return self.filter(set_aside="")


class Trial(models.Model):
    """A trial of a task: its figures, and its judgement against the target of that day.

    A figure that could not be measured is null, never zero.
    """

    class Source(models.TextChoices):
        MICROPHONE = "microphone", gettext_lazy("microphone")
        SIMULATED = "simulated", gettext_lazy("simulated voice")
        FILE = "file", gettext_lazy("recording")
        STOPWATCH = "stopwatch", gettext_lazy("stopwatch")
        TOLD = "told", gettext_lazy("reported by the client")
        PAPER = "paper", gettext_lazy("paper log")
        TABLE = "table", gettext_lazy("imported table")

    class Outcome(models.TextChoices):
        MET = Verdict.MET.value, gettext_lazy("on target")
        NOT_MET = Verdict.NOT_MET.value, gettext_lazy("not on target")
        NOT_JUDGED = Verdict.NOT_JUDGED.value, gettext_lazy("not judged")

    class SetAside(models.TextChoices):
        """Why a trial counts in no share and no best; its measures stay on record."""

        NOT_MY_VOICE = "not_my_voice", gettext_lazy("the client says: not my voice")
        STOPPED_EARLY = "stopped_early", gettext_lazy("the client says: it stopped too early")
        COUNTED_LONG = "counted_long", gettext_lazy("the client says: it counted too long")
        BY_CLINICIAN = "by_clinician", gettext_lazy("left out by a clinician")

    key = models.UUIDField(
        primary_key=True,
        editable=False,
        help_text=gettext_lazy(
            "Made where the try was made, so that sending it twice saves it once."
        ),
    )
    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="trials")
    task = models.ForeignKey(PrescribedTask, on_delete=models.PROTECT, related_name="trials")
    session = models.ForeignKey(Session, on_delete=models.PROTECT, null=True, related_name="trials")
    #: Part of a contrast pair; a deliberately poor one is excluded from bests, trends and
    #: decisions.
    role = models.CharField(max_length=4, blank=True, choices=[("poor", "poor"), ("good", "good")])
    #: The target of this session if it differed from the task's.
    set_s = models.FloatField(null=True)
    performed_at = models.DateTimeField()
    received_at = clinic_now()
    device_time = device_time()
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
    #: Relative to the comfortable voice on the same device, dB.
    level_db = models.FloatField(null=True)
    #: Figures of single kinds of measure: semitones, jumps, gap, counts, minutes.
    figures = models.JSONField(default=dict)

    recording_s = models.FloatField(null=True)
    sample_rate_hz = models.PositiveIntegerField(null=True)
    noise_floor_dbfs = models.FloatField(null=True)
    snr_db = models.FloatField(null=True)
    clipped_fraction = models.FloatField(null=True)
    reasons = models.JSONField(default=list)
    capture = models.JSONField(default=dict)

    #: Empty for a trial that counts.
    set_aside = models.CharField(
        max_length=16, blank=True, choices=SetAside, default="", db_default=""
    )
    #: When a clinician last decided whether it counts: earlier reports no longer apply.
    reviewed_at = models.DateTimeField(null=True)
    reviewed_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )

    objects = TrialQuerySet.as_manager()

    class Meta:
        db_table = "practice_trial"
        ordering = ["performed_at", "key"]
        indexes = [
            models.Index(fields=["client", "performed_at"]),
            models.Index(fields=["task", "performed_at"]),
        ]
        constraints = [within("performed_at", of="received_at", name="trial_made_when_it_can_be")]

    def __str__(self) -> str:
        return gettext("try of {performed_at:%Y-%m-%d %H:%M}").format(
            performed_at=self.performed_at
        )

    @property
    def asked_s(self) -> float | None:
        """Return the target seconds; None for a task without a duration."""
        return self.set_s or self.task.target_s

    @property
    def drawn_s(self) -> Any:
        """Return the height of its reed in seconds, the unit of its task.

        Where steady seconds count but could not be judged, all of them (the reed is then dashed).
        """
        steady = self.task.counts == PrescribedTask.Counts.STEADY
        return self.steady_s if steady and self.steady_s is not None else self.total_s


class Trace(models.Model):
    """A try's pitch and level, one pair each 20 ms (:mod:`reedcore.formats.trace`)."""

    trial = models.OneToOneField(Trial, on_delete=models.CASCADE, primary_key=True)
    packed = models.BinaryField()

    class Meta:
        db_table = "practice_trace"

    def __str__(self) -> str:
        return gettext("trace of {trial_id}").format(trial_id=self.trial_id)


class SelfReport(models.Model):
    """A self-report during a session: effort, strain, a felt check, why a task was skipped."""

    class Kind(models.TextChoices):
        EFFORT = "effort", gettext_lazy("bodily effort, 1 to 10")
        CONCENTRATION = "concentration", gettext_lazy("concentration, 1 to 10")
        STRAIN = "strain", gettext_lazy("scratchy, tight or sore")
        FELT = "felt", gettext_lazy("felt check")
        SKIPPED = "skipped", gettext_lazy("skipped")
        BREATH = "breath", gettext_lazy("after a counted breath")
        DEPTH = "depth", gettext_lazy("depth in water, cm")
        COMMENT = "comment", gettext_lazy("comment")
        BOTHER = "bother", gettext_lazy("bother from the voice, 0 to 10")
        DEMANDS = "demands", gettext_lazy("vocal demand today")
        DISTANCE = "distance", gettext_lazy("the distance to the microphone")
        SET_ASIDE = "set_aside", gettext_lazy("whether a trial counts")
        ANSWER = "answer", gettext_lazy("answer to the clinic")
        MICROPHONE = "microphone", gettext_lazy("microphone check")
        ANSWERED_BY = "answered_by", gettext_lazy("who answered the questions")

    key = models.UUIDField(primary_key=True, editable=False)
    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="self_reports")
    session = models.ForeignKey(Session, on_delete=models.PROTECT, related_name="self_reports")
    task = models.ForeignKey(
        PrescribedTask, on_delete=models.PROTECT, null=True, related_name="self_reports"
    )
    kind = models.CharField(max_length=16, choices=Kind)
    value = models.JSONField()
    said_at = models.DateTimeField()
    received_at = clinic_now()
    device_time = device_time()

    class Meta:
        db_table = "practice_selfreport"
        ordering = ["said_at", "key"]
        indexes = [models.Index(fields=["client", "kind", "said_at"])]
        constraints = [within("said_at", of="received_at", name="mark_said_when_it_can_be")]

    def __str__(self) -> str:
        return f"{self.kind}: {self.value}"


class ReferenceVowel(models.Model):
    """The comfortable voice on one device: levels are judged relative to it.

    The first three of a device are its reference; each later one checks the distance.
    """

    key = models.UUIDField(primary_key=True, editable=False)
    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="reference_vowels")
    session = models.ForeignKey(Session, on_delete=models.PROTECT, related_name="reference_vowels")
    device = models.CharField(max_length=200)
    browser = models.CharField(max_length=200)
    made_at = models.DateTimeField()
    received_at = clinic_now()
    device_time = device_time()
    level_dbfs = models.FloatField(null=True)
    reasons = models.JSONField(default=list)

    class Meta:
        db_table = "practice_referencevowel"
        ordering = ["made_at", "key"]
        indexes = [models.Index(fields=["client", "device", "browser", "made_at"])]
        constraints = [within("made_at", of="received_at", name="vowel_made_when_it_can_be")]

    def __str__(self) -> str:
        return gettext("comfortable voice on {device}").format(device=self.device)
