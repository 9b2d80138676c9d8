"""The person with the voice: the record, the screen, the baseline, the targets."""

from zoneinfo import ZoneInfo

from django.conf import settings
from django.db import models
from django.db.models import Q
from django.utils import timezone
from simple_history.models import HistoricalRecords

from reedcore.catalogue.ages import ADULT, CHILD, TEENAGER, age_in_years, wording_at
from reedcore.safety import ASKED, Caution, Forbidden, SafetyCase, forbidden_hazards
from web.accounts.models import Clinic, known_time_zone
from web.ui.times import moment, within

from .nameless import NAMING
from .practice_link import LINK_FIELDS, PracticeLink

#: The parts of a say-so: who allowed it, when, and what exactly.
SAY_SO = ("who", "on", "what")


class Client(PracticeLink):
    """One client of one clinic."""

    class Voice(models.TextChoices):
        TREBLE = "treble", "treble"
        BASS = "bass", "bass"
        OWN = "own", "own range"

    class Spelling(models.TextChoices):
        SHARPS = "sharps", "sharps (F♯3)"
        FLATS = "flats", "flats (G♭3)"

    class AgeBand(models.TextChoices):
        UNDER_13 = "under-13", "under 13"
        FROM_13 = "13-17", "13 to 17"
        #: Records of before the two bands above; counts as a child until the age is known.
        UNDER_18 = "under-18", "under 18"
        FROM_18 = "18-39", "18 to 39"
        FROM_40 = "40-59", "40 to 59"
        FROM_60 = "60-74", "60 to 74"
        FROM_75 = "75+", "75 or more"

    class Diagnosis(models.TextChoices):
        """Coarse groups, to find like cases by; the laryngologist's own words stand beside it."""

        TENSION = "tension", "muscle tension"
        LESION = "lesion", "vocal-fold lesion"
        PARESIS = "paresis", "paresis or paralysis"
        THIN = "thin", "thinned or bowed folds"
        QUIET = "quiet", "quiet voice of neurological origin"
        TREMOR = "tremor", "tremor"
        SURGERY = "surgery", "after surgery"
        PITCH = "pitch", "pitch of one’s own choice"
        WORKING = "working", "working voice, no finding"
        OTHER = "other", "another"

    class Complaint(models.TextChoices):
        UNKNOWN = "", "not known"
        YES = "yes", "yes"
        NO = "no", "no: warm-up, performance or prevention"

    class Contact(models.TextChoices):
        NONE = "", "not agreed"
        PHONE = "phone", "telephone"
        MAIL = "mail", "e-mail"
        POST = "post", "letter"
        IN_PERSON = "person", "in person only"

    clinic = models.ForeignKey(Clinic, on_delete=models.PROTECT, related_name="clients")
    name = models.CharField("name or code", max_length=120)
    age_band = models.CharField(max_length=8, choices=AgeBand, blank=True)
    born_on = models.DateField("date of birth", null=True, blank=True)
    pronouns = models.CharField(max_length=40, blank=True)
    occupation = models.CharField(max_length=120, blank=True)
    voice_demands = models.TextField("what the voice has to do", blank=True)
    goals = models.TextField("goals, in the client’s own words", blank=True)
    referral_reason = models.TextField("reason for referral", blank=True)
    referrer = models.CharField("referred by", max_length=160, blank=True)
    clinician = models.ForeignKey(
        settings.AUTH_USER_MODEL,
        on_delete=models.SET_NULL,
        null=True,
        blank=True,
        related_name="own_clients",
        help_text="Whose client this is; the others of the clinic see them too.",
    )
    shared_with = models.ManyToManyField(
        settings.AUTH_USER_MODEL, blank=True, related_name="shared_clients"
    )
    diagnosis = models.CharField("kind of diagnosis", max_length=10, choices=Diagnosis, blank=True)
    laryngeal_finding = models.TextField("laryngologist’s finding", blank=True)
    examined_on = models.DateField("larynx examined on", null=True, blank=True)
    voice_changed_on = models.DateField("voice different since", null=True, blank=True)
    voice_rest_until = models.DateField("voice rest until", null=True, blank=True)
    loud_from = models.DateField("surgeon allows loud and high from", null=True, blank=True)
    cautions = models.JSONField(default=list, blank=True)
    #: By caution: since when the entry stands as it does, and who has allowed what, where somebody
    #: has: ``{"since": …, "who": …, "on": …, "what": …}``.
    caution_entries = models.JSONField(default=dict, blank=True)
    complaint = models.CharField(
        "complains of the voice", max_length=4, blank=True, choices=Complaint
    )
    voice = models.CharField(max_length=8, choices=Voice, default=Voice.OWN)
    spelling = models.CharField(
        "notes are spelt with", max_length=8, choices=Spelling, default=Spelling.SHARPS
    )
    contact = models.CharField("reached best by", max_length=8, choices=Contact, blank=True)
    contact_detail = models.CharField("at", max_length=160, blank=True)
    reminders = models.BooleanField(
        "reminded by e-mail of a missed session",
        default=True,
        help_text="At most once a day, and only where an e-mail address is agreed on.",
    )
    grown_up = models.CharField(
        "adult who practises with the child",
        max_length=120,
        blank=True,
        help_text="Only for a child: name and relation, for example “Mara Lind, mother”.",
    )
    props = models.JSONField(default=list, blank=True)
    time_zone = models.CharField(
        "time zone, where it is not the clinic’s",
        max_length=64,
        blank=True,
        validators=[known_time_zone],
    )
    archived_at = models.DateTimeField(null=True, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
    #: Counts the saves of the record, so that a second editor can be told of the first.
    edition = models.PositiveIntegerField(default=1)
    history = HistoricalRecords(excluded_fields=LINK_FIELDS)
    INSTEAD = NAMING

    class Meta:
        ordering = ["name", "pk"]
        indexes = [models.Index(fields=["clinic", "name"])]

    def __str__(self):
        return self.name

    @property
    def mail_label(self) -> str:
        """How plain mail speaks of the client: never by name."""
        if self.clinic.mail_label == Clinic.MailLabel.NUMBER:
            return f"no. {self.pk}"
        return "".join(f"{word[0].upper()}." for word in self.name.split() if word[0].isalnum())

    @property
    def zone(self) -> ZoneInfo:
        """The time zone the client lives in."""
        return ZoneInfo(self.time_zone or self.clinic.time_zone)

    @property
    def caution_codes(self) -> frozenset[Caution]:
        """The cautions on record, and that of a child's age."""
        found = {Caution(code) for code in self.cautions}
        return frozenset(found | {Caution.CHILD} if self.is_child else found)

    @property
    def is_child(self) -> bool:
        """Under thirteen today, or under eighteen where nothing more is known."""
        if self.born_on:
            return wording_at(age_in_years(self.born_on, timezone.localdate())) == CHILD
        return self.age_band in (self.AgeBand.UNDER_13, self.AgeBand.UNDER_18)

    @property
    def said_so(self) -> frozenset[Caution]:
        """The cautions that somebody who knows has allowed, with who, when and what on record."""
        return frozenset(
            caution
            for caution in self.caution_codes
            if all(self.caution_entries.get(caution, {}).get(part) for part in SAY_SO)
        )

    def forbidden(self, *, on) -> tuple[Forbidden, ...]:
        """What no task of this client may do on that day."""
        return forbidden_hazards(
            self.caution_codes, loud_from=self.loud_from, said_so=self.said_so, on=on
        )

    def wording(self, *, on) -> str:
        """For whom instructions to this client are worded, unless a clinician chooses otherwise."""
        if self.born_on:
            return wording_at(age_in_years(self.born_on, on))
        by_band = {
            self.AgeBand.UNDER_13: CHILD,
            self.AgeBand.FROM_13: TEENAGER,
            self.AgeBand.UNDER_18: TEENAGER,
        }
        return by_band.get(self.age_band, ADULT)

    def caution_stamp(self, caution: str) -> str:
        """Changes whenever that entry of the record does: a reason written for it lapses then."""
        if caution == Caution.CHILD:
            return f"{self.age_band}/{self.born_on}"
        since = self.caution_entries.get(caution, {}).get("since", "")
        if caution == Caution.VOCAL_FOLD_SURGERY and self.loud_from:
            return f"{since}/{self.loud_from:%Y-%m-%d}"
        return since

    def safety_case(self, open_flags=frozenset()) -> SafetyCase:
        """What the record says that bears on safety."""
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
    """Somebody of the client's own who practises with them, with a PIN of their own."""

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="helpers")
    name = models.CharField("name", max_length=120)
    relation = models.CharField("who that is", max_length=60, blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    ended_at = models.DateTimeField(null=True)
    history = HistoricalRecords(excluded_fields=LINK_FIELDS)
    INSTEAD = {"name": "a helper"}

    class Meta:
        ordering = ["made_at", "pk"]

    def __str__(self):
        return f"{self.name}, {self.relation}" if self.relation else self.name

    @property
    def clinic(self) -> Clinic:
        """The clinic of whom they help."""
        return self.client.clinic


class Screen(models.Model):
    """The red flags, asked once. The newest one counts; none is ever changed."""

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="screens")
    asked_at = models.DateTimeField()
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    flags = models.JSONField("red flags that were said", default=list)
    #: The cautions that the form asked about then; questions are added over the years.
    asked = models.JSONField("cautions that were asked about", default=list)
    note = models.TextField(blank=True)
    safe_because = models.TextField("why it is safe to go on", blank=True)
    safe_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    safe_at = models.DateTimeField(null=True)
    referred_at = models.DateTimeField(null=True)
    referred_to = models.CharField(max_length=160, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["-asked_at", "-pk"]

    def __str__(self):
        return f"screen of {self.client}, {self.asked_at:%Y-%m-%d}"

    @property
    def unasked(self) -> frozenset[Caution]:
        """Questions about cautions that came into use after this screening."""
        return frozenset(each for each in ASKED if each.value not in self.asked)

    @property
    def open_flags(self) -> list[str]:
        """The flags that still stand: nobody has written why it is safe."""
        return [] if self.safe_because else self.flags


class Stop(models.Model):
    """Something the client said was wrong, while practising or asked about it.

    One that pauses the programme does so until a clinician has cleared it with a note.
    """

    key = models.UUIDField(primary_key=True, editable=False)
    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="stops")
    session_key = models.UUIDField(null=True)
    flags = models.JSONField()
    tier = models.CharField(max_length=20)
    pauses = models.BooleanField()
    comment = models.CharField(max_length=500, blank=True)
    said_at = models.DateTimeField()
    #: When it came here: what is due because of it is reckoned from this, never from the device.
    received_at = models.DateTimeField(default=moment, editable=False)
    #: What the device's own clock said, where that was another time.
    device_time = models.CharField(max_length=40, blank=True)
    #: Whether people are told of it at once, whom, when it reached them, and why it has not.
    tells = models.BooleanField(default=False)
    told = models.JSONField("who is mailed", default=list)
    delivered_at = models.DateTimeField(null=True)
    trouble = models.CharField(max_length=16, blank=True)
    #: When the client said that it was pressed by mistake.
    taken_back_at = models.DateTimeField(null=True)
    #: When somebody of the clinic first opened a page that shows it.
    read_at = models.DateTimeField(null=True)
    read_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    #: When the clinic's lead was told that nobody had.
    passed_on_at = models.DateTimeField(null=True)
    cleared_at = models.DateTimeField(null=True)
    cleared_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    cleared_because = models.TextField(blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["-said_at", "key"]
        indexes = [
            models.Index(fields=["client", "cleared_at"]),
            models.Index(
                fields=["received_at"],
                condition=Q(tells=True, delivered_at=None),
                name="stops_to_deliver",
            ),
        ]
        constraints = [within("said_at", of="received_at", name="stop_said_when_it_can_be")]

    def __str__(self):
        return f"stop of {self.client}, {self.said_at:%Y-%m-%d %H:%M}"


class ReferenceFigure(models.Model):
    """One row of the clinic's own reference table."""

    clinic = models.ForeignKey(Clinic, on_delete=models.CASCADE, related_name="reference_figures")
    measure = models.CharField(max_length=24)
    age_band = models.CharField(max_length=8, choices=Client.AgeBand, blank=True)
    voice = models.CharField(max_length=8, choices=Client.Voice, blank=True)
    low = models.FloatField("usual from", null=True, blank=True)
    high = models.FloatField("usual to", null=True, blank=True)
    source = models.CharField("where it is from", max_length=200, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["measure", "age_band", "voice"]
        constraints = [
            models.UniqueConstraint(
                fields=["clinic", "measure", "age_band", "voice"], name="one_reference_a_group"
            )
        ]

    def __str__(self):
        return f"{self.measure} {self.age_band} {self.voice}".strip()


class Baseline(models.Model):
    """One run of the sheet. Every trial of it is kept."""

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="baselines")
    begun_at = models.DateTimeField()
    begun_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )
    closed_at = models.DateTimeField(null=True)
    distance_m = models.FloatField(default=0.30)
    #: Typed figures and words by their code: what was taken, effort, ratings, comfortable range.
    entries = models.JSONField(default=dict)
    history = HistoricalRecords()

    class Meta:
        ordering = ["-begun_at", "-pk"]

    def __str__(self):
        return f"baseline of {self.client}, {self.begun_at:%Y-%m-%d}"


class BaselineTrial(models.Model):
    """One capture at one step. A figure that could not be measured is not among its figures."""

    class Source(models.TextChoices):
        MICROPHONE = "microphone", "microphone"
        SIMULATED = "simulated", "simulated"
        FILE = "file", "recording"
        TYPED = "typed", "typed"

    key = models.UUIDField(primary_key=True, editable=False)
    baseline = models.ForeignKey(Baseline, on_delete=models.PROTECT, related_name="trials")
    step = models.CharField(max_length=16)
    source = models.CharField(max_length=12, choices=Source)
    made_at = models.DateTimeField()
    figures = models.JSONField(default=dict)
    reasons = models.JSONField(default=list)
    capture = models.JSONField(default=dict)
    snr_db = models.FloatField(null=True)
    note = models.CharField(max_length=300, blank=True)
    discarded_at = models.DateTimeField(null=True)
    chosen = models.BooleanField("taken instead of the best", default=False)
    chosen_because = models.CharField(max_length=300, blank=True)
    history = HistoricalRecords()

    class Meta:
        ordering = ["made_at", "key"]
        indexes = [models.Index(fields=["baseline", "step"])]

    def __str__(self):
        return f"{self.step}, {self.made_at:%Y-%m-%d %H:%M}"


class Target(models.Model):
    """What was decided about one kind of target, and all that it rests on."""

    class Decision(models.TextChoices):
        ACCEPTED = "accepted", "accepted"
        CHANGED = "changed", "changed"
        REFUSED = "refused", "refused"

    client = models.ForeignKey(Client, on_delete=models.PROTECT, related_name="targets")
    baseline = models.ForeignKey(Baseline, on_delete=models.PROTECT, related_name="targets")
    kind = models.CharField(max_length=16)
    rule = models.CharField(max_length=24)
    decision = models.CharField(max_length=10, choices=Decision)
    values = models.JSONField()
    proposed = models.JSONField()
    inputs = models.JSONField()
    counts = models.CharField("which seconds count", max_length=8, blank=True)
    reason = models.TextField(blank=True)
    decided_at = models.DateTimeField()
    decided_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+"
    )

    class Meta:
        ordering = ["-decided_at", "-pk"]
        indexes = [models.Index(fields=["client", "kind", "-decided_at"])]

    def __str__(self):
        return f"{self.kind} of {self.client}: {self.decision}"


class Erasure(models.Model):
    """That a record is to be erased, or was: all that is left of it."""

    clinic = models.ForeignKey(Clinic, on_delete=models.PROTECT, related_name="erasures")
    #: The client's number; no key, for the record goes.
    record = models.PositiveBigIntegerField()
    why = models.CharField(max_length=500)
    #: Nobody: because it was archived for as long as the clinic keeps records.
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    asked_at = models.DateTimeField(auto_now_add=True)
    due_at = models.DateTimeField()
    taken_back_at = models.DateTimeField(null=True)
    taken_back_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.PROTECT, null=True, related_name="+"
    )
    done_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-asked_at"]
        constraints = [
            models.UniqueConstraint(
                fields=["record"],
                condition=models.Q(taken_back_at=None, done_at=None),
                name="one_erasure_waits_for_a_record",
            )
        ]

    def __str__(self):
        return f"record {self.record}"
