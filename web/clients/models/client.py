"""A client's record, and the client's helpers."""

from __future__ import annotations

from typing import Any
from zoneinfo import ZoneInfo

from django.conf import settings
from django.db import models
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy
from simple_history.models import HistoricalRecords

from reedcore.catalogue.ages import ADULT, CHILD, TEENAGER, age_in_years, wording_at
from reedcore.safety import Caution, Forbidden, SafetyCase, forbidden_hazards
from web.accounts.models import Clinic, known_time_zone

from ..practice_link import LINK_FIELDS, PracticeLink
from ..pseudonyms import NAMING

#: Parts of a permission: who gave it, when, and for what.
SAY_SO = ("who", "on", "what")


class Client(PracticeLink):
    """A client of a clinic."""

    class Voice(models.TextChoices):
        TREBLE = "treble", gettext_lazy("treble")
        BASS = "bass", gettext_lazy("bass")
        OWN = "own", gettext_lazy("own range")

    class Spelling(models.TextChoices):
        SHARPS = "sharps", gettext_lazy("sharps (F♯3)")
        FLATS = "flats", gettext_lazy("flats (G♭3)")

    class AgeBand(models.TextChoices):
        UNDER_13 = "under-13", gettext_lazy("under 13")
        FROM_13 = "13-17", gettext_lazy("13 to 17")
        #: Legacy band before the two above; treated as a child until the age is known.
        UNDER_18 = "under-18", gettext_lazy("under 18")
        FROM_18 = "18-39", gettext_lazy("18 to 39")
        FROM_40 = "40-59", gettext_lazy("40 to 59")
        FROM_60 = "60-74", gettext_lazy("60 to 74")
        FROM_75 = "75+", gettext_lazy("75 or more")

    class Diagnosis(models.TextChoices):
        """Coarse groups for finding similar cases, next to the laryngologist's own words."""

        TENSION = "tension", gettext_lazy("muscle tension")
        LESION = "lesion", gettext_lazy("vocal-fold lesion")
        PARESIS = "paresis", gettext_lazy("paresis or paralysis")
        THIN = "thin", gettext_lazy("thinned or bowed folds")
        QUIET = "quiet", gettext_lazy("hypophonia of neurological origin")
        TREMOR = "tremor", gettext_lazy("tremor")
        SURGERY = "surgery", gettext_lazy("after surgery")
        PITCH = "pitch", gettext_lazy("gender-affirming voice")
        WORKING = "working", gettext_lazy("professional voice, no finding")
        OTHER = "other", gettext_lazy("another")

    class Complaint(models.TextChoices):
        UNKNOWN = "", gettext_lazy("not known")
        YES = "yes", gettext_lazy("yes")
        NO = "no", gettext_lazy("no (warm-up, performance or prevention)")

    class Contact(models.TextChoices):
        NONE = "", gettext_lazy("not agreed")
        PHONE = "phone", gettext_lazy("telephone")
        MAIL = "mail", gettext_lazy("e-mail")
        POST = "post", gettext_lazy("letter")
        IN_PERSON = "person", gettext_lazy("in person only")

    clinic = models.ForeignKey(Clinic, on_delete=models.PROTECT, related_name="clients")
    name = models.CharField(gettext_lazy("name or code"), max_length=120)
    age_band = models.CharField(max_length=8, choices=AgeBand, blank=True)
    born_on = models.DateField(gettext_lazy("date of birth"), null=True, blank=True)
    pronouns = models.CharField(max_length=40, blank=True)
    occupation = models.CharField(max_length=120, blank=True)
    voice_demands = models.TextField(gettext_lazy("vocal demands"), blank=True)
    goals = models.TextField(gettext_lazy("goals, in the client’s own words"), blank=True)
    referral_reason = models.TextField(gettext_lazy("reason for referral"), blank=True)
    referrer = models.CharField(gettext_lazy("referred by"), max_length=160, blank=True)
    clinician = models.ForeignKey(
        settings.AUTH_USER_MODEL,
        on_delete=models.SET_NULL,
        null=True,
        blank=True,
        related_name="own_clients",
        help_text=gettext_lazy("The client’s clinician. Others in the clinic also have access."),
    )
    shared_with = models.ManyToManyField(
        settings.AUTH_USER_MODEL, blank=True, related_name="shared_clients"
    )
    diagnosis = models.CharField(
        gettext_lazy("kind of diagnosis"), max_length=10, choices=Diagnosis, blank=True
    )
    laryngeal_finding = models.TextField(gettext_lazy("laryngologist’s finding"), blank=True)
    examined_on = models.DateField(gettext_lazy("larynx examined on"), null=True, blank=True)
    voice_changed_on = models.DateField(
        gettext_lazy("voice different since"), null=True, blank=True
    )
    voice_rest_until = models.DateField(gettext_lazy("voice rest until"), null=True, blank=True)
    loud_from = models.DateField(
        gettext_lazy("loud and high voice allowed by the surgeon from"), null=True, blank=True
    )
    cautions = models.JSONField(default=list, blank=True)
    #: By caution: since when the entry is unchanged, and who allowed what: ``{"since": …, "who": …,
    #: "on": …, "what": …}``.
    caution_entries = models.JSONField(default=dict, blank=True)
    complaint = models.CharField(
        gettext_lazy("voice complaint"), max_length=4, blank=True, choices=Complaint
    )
    voice = models.CharField(max_length=8, choices=Voice, default=Voice.OWN)
    spelling = models.CharField(
        gettext_lazy("note names with"), max_length=8, choices=Spelling, default=Spelling.SHARPS
    )
    contact = models.CharField(
        gettext_lazy("preferred contact"), max_length=8, choices=Contact, blank=True
    )
    contact_detail = models.CharField("at", max_length=160, blank=True)
    reminders = models.BooleanField(
        gettext_lazy("email reminder after a missed session"),
        default=True,
        help_text=gettext_lazy("At most once a day, and only with an agreed email address."),
    )
    grown_up = models.CharField(
        gettext_lazy("adult who practises with the child"),
        max_length=120,
        blank=True,
        help_text=gettext_lazy("For a child: name and relation, for example “Mara Lind, mother”."),
    )
    props = models.JSONField(default=list, blank=True)
    time_zone = models.CharField(
        gettext_lazy("time zone, if different from the clinic’s"),
        max_length=64,
        blank=True,
        validators=[known_time_zone],
    )
    archived_at = models.DateTimeField(null=True, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
    #: Counts the saves of the record to detect simultaneous edits.
    edition = models.PositiveIntegerField(default=1)
    history = HistoricalRecords(excluded_fields=LINK_FIELDS)
    INSTEAD = NAMING

    class Meta:
        ordering = ["name", "pk"]
        indexes = [models.Index(fields=["clinic", "name"])]

    def __str__(self) -> str:
        return self.name

    @property
    def mail_label(self) -> str:
        """Return how the client is named in unencrypted email: never by name."""
        if self.clinic.mail_label == Clinic.MailLabel.NUMBER:
            return gettext("no. {pk}").format(pk=self.pk)
        return "".join(f"{word[0].upper()}." for word in self.name.split() if word[0].isalnum())

    @property
    def zone(self) -> ZoneInfo:
        """Return the client's time zone."""
        return ZoneInfo(self.time_zone or self.clinic.time_zone)

    @property
    def caution_codes(self) -> frozenset[Caution]:
        """Return the cautions on record, and the one for a child's age."""
        found = {Caution(code) for code in self.cautions}
        return frozenset(found | {Caution.CHILD} if self.is_child else found)

    @property
    def is_child(self) -> bool:
        """Return whether the client is under thirteen today, or under eighteen without a
        known age."""
        if self.born_on:
            return wording_at(age_in_years(self.born_on, timezone.localdate())) == CHILD
        return self.age_band in (self.AgeBand.UNDER_13, self.AgeBand.UNDER_18)

    @property
    def said_so(self) -> frozenset[Caution]:
        """Return the cautions for which a treating clinician's permission is on record."""
        return frozenset(
            caution
            for caution in self.caution_codes
            if all(self.caution_entries.get(caution, {}).get(part) for part in SAY_SO)
        )

    def forbidden(self, *, on: Any) -> tuple[Forbidden, ...]:
        """Return the hazards that are forbidden for this client on this day."""
        return forbidden_hazards(
            self.caution_codes, loud_from=self.loud_from, said_so=self.said_so, on=on
        )

    def wording(self, *, on: Any) -> str:
        """Return the wording for the client's age, unless a clinician chose another."""
        if self.born_on:
            return wording_at(age_in_years(self.born_on, on))
        by_band = {
            self.AgeBand.UNDER_13: CHILD,
            self.AgeBand.FROM_13: TEENAGER,
            self.AgeBand.UNDER_18: TEENAGER,
        }
        return by_band.get(self.AgeBand(self.age_band), ADULT) if self.age_band else ADULT

    def caution_stamp(self, caution: str) -> str:
        """Change whenever that entry of the record does: a reason written for it lapses then."""
        if caution == Caution.CHILD:
            return f"{self.age_band}/{self.born_on}"
        since = self.caution_entries.get(caution, {}).get("since", "")
        if caution == Caution.VOCAL_FOLD_SURGERY and self.loud_from:
            return f"{since}/{self.loud_from:%Y-%m-%d}"
        return since

    def safety_case(self, open_flags: frozenset[Any] | set[Any] = frozenset()) -> SafetyCase:
        """Return the facts of the record that concern safety."""
        return SafetyCase(
            cautions=self.caution_codes,
            open_flags=frozenset(open_flags),
            complaint={"yes": True, "no": False}.get(self.complaint),
            voice_changed_on=self.voice_changed_on,
            examined_on=self.examined_on,
            voice_rest_until=self.voice_rest_until,
            loud_from=self.loud_from,
            limit_days=self.clinic.unexamined_limit_days,
        )


class Helper(PracticeLink):
    """A helper, who practises with the client and has a PIN of their own."""

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="helpers")
    name = models.CharField("name", max_length=120)
    relation = models.CharField(gettext_lazy("relation to the client"), max_length=60, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True)
    history = HistoricalRecords(excluded_fields=LINK_FIELDS)
    INSTEAD = {"name": "a helper"}

    class Meta:
        ordering = ["made_at", "pk"]

    def __str__(self) -> str:
        return f"{self.name}, {self.relation}" if self.relation else self.name

    @property
    def clinic(self) -> Clinic:
        """Return the clinic of the helper's client."""
        return self.client.clinic
