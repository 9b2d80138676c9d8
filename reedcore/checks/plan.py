"""The input of the programme check as plain values."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from reedcore.baseline import PitchRange
from reedcore.devices.breath_counts import BreathCount
from reedcore.dose import Dose, SessionPart, session_time
from reedcore.pitch import Note
from reedcore.safety import Caution, Forbidden, Hazard


class School(StrEnum):
    """The school of a programme: soft or loud voice."""

    SOFT = "soft"
    LOUD = "loud"
    MIXED = "mixed"


class Severity(StrEnum):
    """A stop needs a written reason to be overruled."""

    STOP = "stop"
    WARN = "warn"
    HINT = "hint"


class FixKind(StrEnum):
    """The kind of edit that would resolve a finding."""

    REMOVE = "remove"
    SET_SECONDS = "set_seconds"
    SET_NOTES = "set_notes"
    SET_CEILING = "set_ceiling"
    DROP_FLOOR = "drop_floor"
    SIP_AFTER = "sip_after"
    MOVE_LAST = "move_last"
    MOVE_FIRST = "move_first"
    ADD_TASK = "add_task"
    MARK_SHORT = "mark_short"
    DROP_DAY = "drop_day"


@dataclass(frozen=True, slots=True)
class Fix:
    """An edit that would resolve a finding; ``value`` depends on its kind."""

    kind: FixKind
    value: Any = None


@dataclass(frozen=True, slots=True)
class Finding:
    """A problem of a programme that the clinician should review.

    Attributes:
        code: the rule's own name.
        item: the id of the item it is about; None for the whole.
        about: what of it, where one rule can speak twice of one item.
        facts: the figures of its sentence.
    """

    level: Severity
    code: str
    item: str | None = None
    facts: dict[str, Any] = field(default_factory=dict)
    fix: Fix | None = None
    about: str = ""


@dataclass(frozen=True, slots=True)
class CheckedItem:
    """An item of a session as the check needs it.

    Attributes:
        family: release, breath, occluded, onset, block, range, loud, articulation, cooldown.
        sound: what it is made on.
        is_own: written by the clinic, not of the shipped catalogue.
        has_cue_off: the cue to breathe, or the beat, is not shown.
        seconds: target of one try where it has one.
        notes: held notes; ``glides`` says that they are a glide's ends instead.
        reach: the lowest and the highest note that a pattern's notes come to; empty elsewhere.
        lacks_start: it is a scale or another pattern, and has no note to start from.
        out_s: the longest prescribed out-breath; None if it has no set length.
        all_the_air: the out-breath lasts as long as the air does.
        floor_db, ceiling_db: relative to the comfortable voice.
        best_s: the client's best on this task, note and sound; None when unknown.
        before_s, before_cmh2o: the target and the back pressure in force seven days ago.
        breath, cycles: of counted breathing.
        held_breath_s: of a quiet breath hold.
        pant_s: of panting.
        pressure_cmh2o: estimate, None without a bore or depth.
        is_intended: the clinician has written that it is meant so.
    """

    id: str
    task: str
    family: str
    part: SessionPart
    hazards: frozenset[Hazard] = frozenset()
    props: tuple[str, ...] = ()
    needs_prop: bool = False
    sound: str = ""
    is_own: bool = False
    has_cue_off: bool = False
    seconds: float | None = None
    notes: tuple[Note, ...] = ()
    glides: bool = False
    reach: tuple[Note, ...] = ()
    lacks_start: bool = False
    longest_out_s: float | None = None
    all_the_air: bool = False
    floor_db: float | None = None
    ceiling_db: float | None = None
    best_s: float | None = None
    before_s: float | None = None
    before_cmh2o: float | None = None
    breath: BreathCount | None = None
    cycles: int = 1
    held_breath_s: float | None = None
    pant_s: float | None = None
    pressure_cmh2o: float | None = None
    reason: str = ""
    is_in_short_day: bool = False
    is_intended: bool = False

    @property
    def is_loud(self) -> bool:
        """Return whether it is loud: by its hazard, or by a floor above the comfortable voice."""
        return Hazard.LOUD in self.hazards or (self.floor_db is not None and self.floor_db > 0)

    @property
    def longest_breath_s(self) -> float | None:
        """Return the longest out-breath of one try, seconds; None if it is not known."""
        return self.longest_out_s if self.seconds is None else self.seconds

    @property
    def all_notes(self) -> tuple[Note, ...]:
        """Return every note that limits the task."""
        return self.reach or self.notes


class ProgrammeType(StrEnum):
    """The type of a session; each type has a usual length."""

    FULL = "full"
    RESET = "reset"
    EVENT = "event"
    MAINTENANCE = "maintenance"
    EXTRA = "extra"


@dataclass(frozen=True, slots=True)
class Plan:
    """A session and how often it is due."""

    items: tuple[CheckedItem, ...]
    dose: Dose
    school: School = School.SOFT
    sort: ProgrammeType = ProgrammeType.FULL
    session_cap_s: float = 45 * 60.0
    day_voiced_cap_s: float = 20 * 60.0
    daily_for_life: bool = False
    #: Voicing per day of the other programmes in force, seconds; and its loud part.
    beside_voiced_s: float = 0.0
    beside_loud_s: float = 0.0
    #: Loud voice per day in force seven days ago, all programmes together; None if there was none.
    before_loud_s: float | None = None

    @property
    def day_voiced_s(self) -> float:
        """Return the voicing of this programme alone, seconds a day."""
        return session_time(item.part for item in self.items).voiced_s * self.dose.a_day

    @property
    def day_loud_s(self) -> float:
        """Return the strong voice per day of this programme alone, s."""
        loud = (item.part for item in self.items if item.is_loud)
        return session_time(loud).voiced_s * self.dose.a_day


@dataclass(frozen=True, slots=True)
class Person:
    """The client's record and baseline as far as the check needs them.

    Attributes:
        is_screened: red flags and cautions have been asked.
        has_larynx_exam: examined since the voice changed, or nothing is the matter with the voice.
        cautions, forbidden: what is on record, and what it forbids.
        cautions_not_asked: questions about cautions that came into use after the newest screening.
        has_adult_helper: for a child, whether an adult who practises with the child is named.
        middle: the middle note of the usual set for this voice; None for a range of its own.
        props: what the client owns; None where the record says nothing of it.
        comfortable_db_spl: level of the comfortable voice at 30 cm; None without a calibrated
            device.
    """

    is_screened: bool = True
    has_larynx_exam: bool = True
    cautions: frozenset[Caution] = frozenset()
    forbidden: tuple[Forbidden, ...] = ()
    cautions_not_asked: frozenset[Caution] = frozenset()
    has_adult_helper: bool = False
    middle: Note | None = None
    comfortable: PitchRange | None = None
    held: PitchRange | None = None
    props: frozenset[str] | None = None
    comfortable_db_spl: float | None = None
    a4_hz: float = 440.0

    @property
    def after_surgery(self) -> bool:
        """Return whether the vocal folds were operated on, injected, or bled."""
        return Caution.VOCAL_FOLD_SURGERY in self.cautions

    @property
    def healing(self) -> bool:
        """Return whether the surgeon's date for loud and high voice is still ahead."""
        return any(each.because is Caution.VOCAL_FOLD_SURGERY for each in self.forbidden)

    @property
    def is_child(self) -> bool:
        """Return whether the client is under thirteen, or under eighteen without a known age."""
        return Caution.CHILD in self.cautions
