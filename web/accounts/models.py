"""Clinics and the users who sign in to them."""

from __future__ import annotations

from typing import Any, ClassVar
from zoneinfo import ZoneInfo, available_timezones

from django.contrib.auth.models import AbstractUser, UserManager
from django.core.exceptions import ValidationError
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.db.models import F, Q, QuerySet
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy
from simple_history.models import HistoricalRecords

from reedcore.safety.clearance import UNEXAMINED_LIMIT_DAYS


def known_time_zone(name: str) -> None:
    """Refuse an unknown time zone."""
    if name not in available_timezones():
        raise ValidationError(
            "“%(name)s” is not a time zone. Example: Europe/Lisbon.", params={"name": name}
        )


class Clinic(models.Model):
    """A practice: no user sees data of another one."""

    class MailLabel(models.TextChoices):
        """How a client is named in unencrypted email."""

        INITIALS = "initials", gettext_lazy("by initials")
        NUMBER = "number", gettext_lazy("by number")

    name = models.CharField(max_length=120)
    time_zone = models.CharField(max_length=64, default="UTC", validators=[known_time_zone])
    a4_hz = models.FloatField(
        gettext_lazy("reference pitch A4 (Hz)"),
        default=440.0,
        validators=[MinValueValidator(430.0), MaxValueValidator(446.0)],
    )
    address = models.TextField(gettext_lazy("postal address (for letters)"), blank=True)
    telephone = models.CharField(
        gettext_lazy("phone number (shown to clients)"), max_length=40, blank=True, default=""
    )
    emergency_number = models.CharField(max_length=40, default="112")
    deputy = models.ForeignKey(
        "User",
        on_delete=models.SET_NULL,
        null=True,
        blank=True,
        related_name="+",
        help_text=gettext_lazy("Receives every stop alert, as does the client’s clinician."),
    )
    lead = models.ForeignKey(
        "User",
        on_delete=models.SET_NULL,
        null=True,
        blank=True,
        related_name="+",
        help_text=gettext_lazy("Receives stops that stay unread for one working day."),
    )
    unexamined_limit_days = models.PositiveSmallIntegerField(
        gettext_lazy("laryngeal exam needed after a voice change of (days)"),
        default=UNEXAMINED_LIMIT_DAYS[1],
        validators=[
            MinValueValidator(UNEXAMINED_LIMIT_DAYS[0]),
            MaxValueValidator(UNEXAMINED_LIMIT_DAYS[1]),
        ],
    )
    mail_label = models.CharField(
        gettext_lazy("clients in emails to staff are shown"),
        max_length=8,
        choices=MailLabel,
        default=MailLabel.INITIALS,
        help_text=gettext_lazy("Emails never contain names or symptoms."),
    )
    questionnaire = models.CharField(
        gettext_lazy("questionnaire (total score)"), max_length=80, blank=True
    )
    idle_minutes = models.PositiveSmallIntegerField(
        gettext_lazy("session timeout (minutes)"),
        default=30,
        db_default=30,
        validators=[MinValueValidator(5), MaxValueValidator(480)],
    )
    log_kept_days = models.PositiveSmallIntegerField(
        gettext_lazy("access log retention (days)"),
        default=1095,
        db_default=1095,
        validators=[MinValueValidator(365), MaxValueValidator(11000)],
    )
    erased_after_days = models.PositiveSmallIntegerField(
        gettext_lazy("erasure can be cancelled for (days)"),
        default=14,
        db_default=14,
        validators=[MinValueValidator(1), MaxValueValidator(90)],
    )
    archived_kept_years = models.PositiveSmallIntegerField(
        gettext_lazy("erase archived records after (years)"),
        null=True,
        blank=True,
        validators=[MinValueValidator(1), MaxValueValidator(99)],
        help_text=gettext_lazy(
            "Leave empty to keep archived records. The lead can cancel each erasure "
            "until it happens."
        ),
    )
    second_step_required = models.BooleanField(
        gettext_lazy("require two-step verification for all staff"),
        default=False,
        db_default=False,
        help_text=gettext_lazy(
            "An authenticator app or a passkey. Staff without one set it up at their next sign-in."
        ),
    )
    device_remembered_days = models.PositiveSmallIntegerField(
        gettext_lazy("trust a device for (days)"),
        default=14,
        db_default=14,
        validators=[MaxValueValidator(30)],
        help_text=gettext_lazy("0: two-step verification at every sign-in."),
    )
    sees_all = models.BooleanField(
        gettext_lazy("all staff see all clients"),
        default=True,
        db_default=True,
        help_text=gettext_lazy(
            "Otherwise staff see their own clients, shared clients and clients they cover."
        ),
    )
    history = HistoricalRecords()

    def __str__(self) -> str:
        return self.name

    @property
    def zone(self) -> ZoneInfo:
        """Return the clinic's time zone."""
        return ZoneInfo(self.time_zone)


class People(UserManager):
    """Users joined with their clinic, which nearly every page needs: saves a query."""

    def get_queryset(self) -> QuerySet[Any]:
        """Return the users joined with their clinic."""
        return super().get_queryset().select_related("clinic")


class User(AbstractUser):
    """A user: a clinician signs in by name and password, a client by link and PIN."""

    class Role(models.TextChoices):
        CLINICIAN = "clinician", gettext_lazy("clinician (prescribes and decides)")
        #: Runs sessions in the clinic and enters logs; does not prescribe or decide.
        ASSISTANT = "assistant", gettext_lazy("assistant (leads sessions and logs practice)")
        #: Read-only.
        VIEWER = "viewer", gettext_lazy("student (read-only)")
        #: Read-only, without client names.
        AUDITOR = "auditor", gettext_lazy("auditor (read-only, without names)")
        CLIENT = "client", gettext_lazy("practise: a client")
        #: A helper of the client.
        HELPER = "helper", gettext_lazy("helper (practises with a client)")

    AT_WORK = (Role.CLINICIAN, Role.ASSISTANT, Role.VIEWER, Role.AUDITOR)

    role = models.CharField("may", max_length=16, choices=Role)
    #: Time of the last role change; None if the role never changed.
    role_given_at = models.DateTimeField(null=True, editable=False)
    clinic = models.ForeignKey(Clinic, on_delete=models.PROTECT, related_name="users")
    history = HistoricalRecords(
        excluded_fields=["password", "last_login", "date_joined", "role_given_at"]
    )

    objects: ClassVar[People] = People()

    class Meta:
        # without an order PostgreSQL moves a changed account to the end of every list of choices
        ordering = ["last_name", "first_name", "pk"]

    def save(self, *args: Any, update_fields: Any = None, **kwargs: Any) -> None:
        """Save with a line in the history; signing in is no change."""
        quiet = update_fields is not None and set(update_fields) <= {"last_login", "password"}
        if quiet:
            self.skip_history_when_saving = True
        try:
            super().save(*args, update_fields=update_fields, **kwargs)
        finally:
            if quiet:
                del self.skip_history_when_saving

    @property
    def is_clinician(self) -> bool:
        """Return whether the account has the role of a clinician."""
        return self.role == self.Role.CLINICIAN

    @property
    def is_clinic_staff(self) -> bool:
        """Return whether the account belongs to the clinic's staff."""
        return self.role in self.AT_WORK

    @property
    def leads_sessions(self) -> bool:
        """Return whether the user leads sessions in the clinic."""
        return self.role in (self.Role.CLINICIAN, self.Role.ASSISTANT)

    @property
    def sees_no_names(self) -> bool:
        """Return whether the user sees records without names."""
        return self.role == self.Role.AUDITOR

    @property
    def zone(self) -> ZoneInfo:
        """Return the time zone of the user's clinic."""
        return self.clinic.zone

    @property
    def is_lead(self) -> bool:
        """Return whether the user leads the clinic; without a lead, every clinician does."""
        return self.is_clinician and self.clinic.lead_id in (None, self.pk)

    @property
    def practises(self) -> bool:
        """Return whether the account practises: a client or a client's helper."""
        return self.role in (self.Role.CLIENT, self.Role.HELPER)

    def visible_clients(self) -> QuerySet[Any]:
        """Return the clients that this user may see; every query for clients starts here."""
        if not self.is_clinic_staff:
            own: dict[str, Any] = {"account": self}
            if self.role == self.Role.HELPER:
                own = {"helpers__account": self, "helpers__ended_at": None}
            return self.clinic.clients.filter(**own, archived_at=None)
        if self.clinic.sees_all or self.is_lead or self.pk == self.clinic.deputy_id:
            return self.clinic.clients.all()
        # People who receive every stop alert see every client. A client without a clinician is
        # visible to all.
        theirs = Q(clinician=self) | Q(clinician=None) | Q(pk__in=self.shared_clients.values("pk"))
        return self.clinic.clients.filter(theirs | Q(clinician__in=self.covered_colleagues()))

    def covered_colleagues(self) -> QuerySet[Any]:
        """Return the keys of colleagues whose clients this user covers today."""
        return Cover.in_force(self.clinic).filter(substitute=self).values("absent")

    def substitutes(self) -> QuerySet[Any]:
        """Return the colleagues who cover for this user today."""
        standing = Cover.in_force(self.clinic).filter(absent=self)
        here = User.objects.filter(role=self.Role.CLINICIAN, is_active=True)
        return here.filter(pk__in=standing.values("substitute"))


class Cover(models.Model):
    """Cover for a colleague: the covering clinician sees their clients and receives their stops."""

    absent = models.ForeignKey(
        User, on_delete=models.CASCADE, related_name="covered", db_column="of_id"
    )
    substitute = models.ForeignKey(
        User, on_delete=models.CASCADE, related_name="covers", db_column="by_id"
    )
    first_day = models.DateField(db_column="first")
    last_day = models.DateField(db_column="last")
    made_by = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+")
    made_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["first_day", "pk"]
        constraints = [
            models.CheckConstraint(
                condition=Q(last_day__gte=F("first_day")), name="cover_ends_after_it_begins"
            ),
            models.CheckConstraint(
                condition=~Q(absent=F("substitute")), name="nobody_covers_themselves"
            ),
        ]

    def __str__(self) -> str:
        return gettext("{by} for {of}, {first} to {last}").format(
            by=self.substitute, of=self.absent, first=self.first_day, last=self.last_day
        )

    @classmethod
    def in_force(cls, clinic: Clinic) -> QuerySet[Any]:
        """Return the covers in force today, by the clinic's clock."""
        today = timezone.now().astimezone(clinic.zone).date()
        return cls.objects.filter(absent__clinic=clinic, first_day__lte=today, last_day__gte=today)


class AttemptCount(models.Model):
    """Number of attempts in a window of time, such as wrong codes from one address.

    What was guessed is not kept.
    """

    key = models.CharField(max_length=80, db_column="what")
    window = models.DateTimeField()
    count = models.PositiveIntegerField(default=0)

    class Meta:
        db_table = "accounts_guesses"
        constraints = [models.UniqueConstraint(fields=["key", "window"], name="one_count_a_window")]

    def __str__(self) -> str:
        return gettext("{count} of {what}").format(count=self.count, what=self.key)


class UnsavedForm(models.Model):
    """Unsaved form input of one user, kept until saved or discarded."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="unsaved")
    form = models.CharField(max_length=200)
    #: By field: the typed value and the value that was stored before.
    fields = models.JSONField()
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        db_table = "accounts_unsaved"
        constraints = [models.UniqueConstraint(fields=["user", "form"], name="one_draft_a_form")]

    def __str__(self) -> str:
        return gettext("{form} of {user}").format(form=self.form, user=self.user)


class AccessLogEntry(models.Model):
    """An entry of the access log; it is never changed."""

    class Kind(models.TextChoices):
        OPENED = "opened", gettext_lazy("opened")
        PRINTED = "printed", gettext_lazy("printed")
        TAKEN_OUT = "taken_out", gettext_lazy("exported")
        CHANGED = "changed", gettext_lazy("changed")

    accessed_at = models.DateTimeField(auto_now_add=True, db_column="at")
    clinic = models.ForeignKey(Clinic, on_delete=models.PROTECT, related_name="+")
    user = models.ForeignKey(User, on_delete=models.PROTECT, related_name="+", db_column="by_id")
    #: The record's number: the log line remains after the record is erased.
    record = models.PositiveBigIntegerField()
    kind = models.CharField(max_length=12, choices=Kind)
    page = models.CharField(max_length=60)
    address = models.GenericIPAddressField(null=True)

    class Meta:
        db_table = "accounts_opened"
        indexes = [
            models.Index(fields=["clinic", "-accessed_at"], name="opened_newest"),
            models.Index(fields=["clinic", "record", "-accessed_at"], name="opened_of_a_record"),
        ]

    def __str__(self) -> str:
        return f"{self.user} {self.kind} {self.record}"
