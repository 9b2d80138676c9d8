"""Judge one trial against its target, part by part.

Three answers, never two: a part is met, not met, or not judged. A try is on target when every part
its task sets is met; with a part not judged it is neither on nor off target.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum

from reedcore.errors import ValueOutOfRange
from reedcore.pitch import Note

#: Median within ±50 cents, with at least 80 % of the voiced frames (both clinic settings).
ON_PITCH_CENTS, ON_PITCH_SHARE = 50.0, 0.80
#: Compare seconds as displayed, with this many decimals: 5.0 has reached 5.
SHOWN_DECIMALS = 1
_SLACK_S = 1e-9
#: Maximum target (convention: hold goals are capped at 45 s; this is half as much again).
SHORTEST_TARGET_S, LONGEST_TARGET_S = 0.5, 90.0


class SecondsKind(StrEnum):
    """Which seconds count: until the air is gone, or while it stays even."""

    TOTAL = "total"
    STEADY = "steady"


class TargetShape(StrEnum):
    """The course of level in a hold: even, swelling, fading, or swelling and fading."""

    EVEN = "even"
    SWELL = "swell"
    FADE = "fade"
    BOTH = "both"


#: Minimum swell or fade, decibels (convention).
SHAPED_DB = 3.0


class Aspect(StrEnum):
    """A part of a target."""

    SECONDS = "seconds"
    PITCH = "pitch"
    LEVEL = "level"
    SPREAD = "spread"
    LEVEL_SPREAD = "level_spread"
    END_FALL = "end_fall"
    SHAPE = "shape"
    SPAN = "span"
    BREAKS = "breaks"
    JUMPS = "jumps"
    JOIN = "join"
    WAY = "way"
    PULSES = "pulses"
    EVENNESS = "evenness"
    REST = "rest"
    AIR = "air"
    START = "start"


class Verdict(StrEnum):
    """The verdict on a part, or on the whole trial."""

    MET = "met"
    NOT_MET = "not_met"
    NOT_JUDGED = "not_judged"


class VerdictReason(StrEnum):
    """The reason for a verdict."""

    REACHED = "reached"
    SHORT = "short"
    ON_NOTE = "on_note"
    FLAT = "flat"
    SHARP = "sharp"
    WANDERED = "wandered"
    OCTAVE_LOW = "octave_low"
    OCTAVE_HIGH = "octave_high"
    NO_VOICE = "no_voice"
    NO_PITCH = "no_pitch"
    TIMED_BY_HAND = "timed_by_hand"
    ROOM_TOO_LOUD = "room_too_loud"
    ANOTHER_VOICE = "another_voice"
    ROOM_NOT_HEARD = "room_not_heard"
    SOUND_LOST = "sound_lost"
    CLIPPED = "clipped"
    BREATHY = "breathy"
    NO_HISS = "no_hiss"
    NARROW_BAND = "narrow_band"
    LEVEL_INSIDE = "level_inside"
    TOO_SOFT = "too_soft"
    TOO_LOUD = "too_loud"
    NO_REFERENCE = "no_reference"
    SOUND_CHANGED = "sound_changed"
    EVEN_PITCH = "even_pitch"
    WAVERED = "wavered"
    EVEN_LEVEL = "even_level"
    UNEVEN_LEVEL = "uneven_level"
    HELD_TO_END = "held_to_end"
    TRAILED_OFF = "trailed_off"
    SHAPED = "shaped"
    NOT_SHAPED = "not_shaped"
    SPANNED = "spanned"
    TOO_NARROW = "too_narrow"
    UNBROKEN = "unbroken"
    BROKEN = "broken"
    NO_JUMP = "no_jump"
    JUMPED = "jumped"
    JOINED = "joined"
    GAPPED = "gapped"
    RIGHT_WAY = "right_way"
    WRONG_WAY = "wrong_way"
    ENOUGH_PULSES = "enough_pulses"
    TOO_FEW_PULSES = "too_few_pulses"
    EVEN_PULSES = "even_pulses"
    UNEVEN_PULSES = "uneven_pulses"
    RESTED = "rested"
    NO_REST = "no_rest"
    AIR_FIRST = "air_first"
    VOICE_AT_ONCE = "voice_at_once"
    NOTHING_SOUNDED = "nothing_sounded"
    NO_BEAT = "no_beat"
    ON_BEAT = "on_beat"
    EARLY = "early"
    LATE = "late"


@dataclass(frozen=True, slots=True)
class HoldTarget:
    """A goal: a length in seconds, and a note unless any note is allowed.

    Attributes:
        floor_db, ceiling_db: level against the client's comfortable voice on the same device, dB;
            None where the task sets no such limit.
        spread_cents, level_spread_db, end_fall_db: the steadiness limits that the task sets: of
            pitch, of level about its own line, and how far the end may fall.
        shape: of the level; with any but even, a slope and a falling end are no fault.

    Raises:
        ValueOutOfRange: seconds outside 0.5–90.
    """

    seconds: float
    counts: SecondsKind = SecondsKind.TOTAL
    note: Note | None = None
    floor_db: float | None = None
    ceiling_db: float | None = None
    spread_cents: float | None = None
    level_spread_db: float | None = None
    end_fall_db: float | None = None
    shape: TargetShape = TargetShape.EVEN

    def __post_init__(self) -> None:
        if not SHORTEST_TARGET_S <= self.seconds <= LONGEST_TARGET_S:
            raise ValueOutOfRange(
                what="target seconds",
                value=self.seconds,
                lowest=SHORTEST_TARGET_S,
                highest=LONGEST_TARGET_S,
            )


@dataclass(frozen=True, slots=True)
class TrialMeasures:
    """The measures of a trial that judging needs. None means not measured.

    Attributes:
        total_s: length of the hold, None when no hold was found.
        steady_s: its steady seconds, None when timed by hand or the room is too loud.
        error_cents: median pitch against the note.
        share_on_pitch: share of voiced frames within ±50 cents of the note.
        is_by_hand: timed with the stopwatch; no sound was measured.
        level_db: level against the comfortable voice on this device.
        no_level: why there is no level, where there is none.
        no_spread: the same of the spread of the pitch.
        spread_cents, level_sd_db, end_fall_db: how even it was.
        rise_db, fall_db: of the level, up to its peak and after it.
    """

    total_s: float | None
    steady_s: float | None = None
    error_cents: float | None = None
    share_on_pitch: float | None = None
    is_by_hand: bool = False
    level_db: float | None = None
    no_level: VerdictReason = VerdictReason.NO_REFERENCE
    no_spread: VerdictReason = VerdictReason.ROOM_TOO_LOUD
    spread_cents: float | None = None
    level_sd_db: float | None = None
    end_fall_db: float | None = None
    rise_db: float | None = None
    fall_db: float | None = None


@dataclass(frozen=True, slots=True)
class PartJudgement:
    """The verdict on one part, with its reason."""

    part: Aspect
    verdict: Verdict
    why: VerdictReason


@dataclass(frozen=True, slots=True)
class Judgement:
    """The judged parts of a target, and the overall verdict."""

    parts: tuple[PartJudgement, ...]

    @property
    def overall(self) -> Verdict:
        """Return not met if any part is not met; met if all parts are; otherwise not judged."""
        verdicts = {part.verdict for part in self.parts}
        for verdict in (Verdict.NOT_MET, Verdict.NOT_JUDGED):
            if verdict in verdicts:
                return verdict
        return Verdict.MET

    def judgement_of(self, part: Aspect) -> PartJudgement | None:
        """Return the judgement of this part; None if the target does not set it."""
        return next((judged for judged in self.parts if judged.part is part), None)


def judge(measured: TrialMeasures, target: HoldTarget) -> Judgement:
    """Return how a try did against its target."""
    parts = [_seconds(measured, target)]
    if target.note is not None:
        parts.append(_pitch(measured))
    if target.floor_db is not None or target.ceiling_db is not None:
        parts.append(judge_level(measured, target.floor_db, target.ceiling_db))
    parts += _steadiness(measured, target)
    return Judgement(tuple(parts))


def has_reached(seconds: float, asked_s: float) -> bool:
    """Return whether the seconds, as displayed, reach the target."""
    return round(seconds, SHOWN_DECIMALS) >= asked_s - _SLACK_S


def _steadiness(measured: TrialMeasures, target: HoldTarget) -> list[PartJudgement]:
    """Return a judgement of each steadiness limit of the task; a shape replaces the limit for an
    even level."""
    even = target
    if target.shape is not TargetShape.EVEN:
        even = replace(target, level_spread_db=None, end_fall_db=None)
    limits = (
        (
            Aspect.SPREAD,
            measured.spread_cents,
            even.spread_cents,
            VerdictReason.EVEN_PITCH,
            VerdictReason.WAVERED,
        ),
        (
            Aspect.LEVEL_SPREAD,
            measured.level_sd_db,
            even.level_spread_db,
            VerdictReason.EVEN_LEVEL,
            VerdictReason.UNEVEN_LEVEL,
        ),
        (
            Aspect.END_FALL,
            measured.end_fall_db,
            even.end_fall_db,
            VerdictReason.HELD_TO_END,
            VerdictReason.TRAILED_OFF,
        ),
    )
    found = []
    for part, value, limit, within, beyond in limits:
        if limit is None:
            continue
        if value is None:
            why = _unheard_reason(measured, is_about_level=part is not Aspect.SPREAD)
            found.append(PartJudgement(part, Verdict.NOT_JUDGED, why))
        elif value <= limit:
            found.append(PartJudgement(part, Verdict.MET, within))
        else:
            found.append(PartJudgement(part, Verdict.NOT_MET, beyond))
    return [*found, *judge_shape(measured, target.shape)]


def judge_shape(measured: TrialMeasures, shape: TargetShape) -> tuple[PartJudgement, ...]:
    """Return whether the level swelled and faded as prescribed; empty if it should be even."""
    if shape is TargetShape.EVEN:
        return ()
    rise, fall = measured.rise_db, measured.fall_db
    if rise is None or fall is None:
        why = _unheard_reason(measured, is_about_level=True)
        return (PartJudgement(Aspect.SHAPE, Verdict.NOT_JUDGED, why),)
    swelled, faded = rise >= SHAPED_DB, fall >= SHAPED_DB
    required = (
        shape in (TargetShape.SWELL, TargetShape.BOTH),
        shape in (TargetShape.FADE, TargetShape.BOTH),
    )
    if (swelled, faded) == required:
        return (PartJudgement(Aspect.SHAPE, Verdict.MET, VerdictReason.SHAPED),)
    return (PartJudgement(Aspect.SHAPE, Verdict.NOT_MET, VerdictReason.NOT_SHAPED),)


def _unheard_reason(measured: TrialMeasures, *, is_about_level: bool) -> VerdictReason:
    if measured.is_by_hand:
        return VerdictReason.TIMED_BY_HAND
    if measured.total_s is None:
        return VerdictReason.NO_VOICE
    if not is_about_level:
        return measured.no_spread
    # Level steadiness needs no comfortable voice for comparison.
    return (
        VerdictReason.ROOM_TOO_LOUD
        if measured.no_level is VerdictReason.NO_REFERENCE
        else measured.no_level
    )


def _seconds(measured: TrialMeasures, target: HoldTarget) -> PartJudgement:
    if measured.total_s is None:
        # Silence is a result: nothing was held for the target.
        return PartJudgement(Aspect.SECONDS, Verdict.NOT_JUDGED, VerdictReason.NO_VOICE)
    held = measured.total_s
    if target.counts is SecondsKind.STEADY:
        if measured.steady_s is None:
            why = (
                VerdictReason.TIMED_BY_HAND if measured.is_by_hand else VerdictReason.ROOM_TOO_LOUD
            )
            return PartJudgement(Aspect.SECONDS, Verdict.NOT_JUDGED, why)
        held = measured.steady_s
    if has_reached(held, target.seconds):
        return PartJudgement(Aspect.SECONDS, Verdict.MET, VerdictReason.REACHED)
    return PartJudgement(Aspect.SECONDS, Verdict.NOT_MET, VerdictReason.SHORT)


def judge_level(
    measured: TrialMeasures, floor_db: float | None, ceiling_db: float | None
) -> PartJudgement:
    """Return a level against its floor, its ceiling or both; of holds, glides, lines and talk
    alike."""
    level = measured.level_db
    if level is None:
        why = VerdictReason.TIMED_BY_HAND if measured.is_by_hand else measured.no_level
        if measured.total_s is None:
            why = VerdictReason.NO_VOICE
        return PartJudgement(Aspect.LEVEL, Verdict.NOT_JUDGED, why)
    if floor_db is not None and level < floor_db:
        return PartJudgement(Aspect.LEVEL, Verdict.NOT_MET, VerdictReason.TOO_SOFT)
    if ceiling_db is not None and level > ceiling_db:
        return PartJudgement(Aspect.LEVEL, Verdict.NOT_MET, VerdictReason.TOO_LOUD)
    return PartJudgement(Aspect.LEVEL, Verdict.MET, VerdictReason.LEVEL_INSIDE)


def _pitch(measured: TrialMeasures) -> PartJudgement:
    error, share = measured.error_cents, measured.share_on_pitch
    if error is None or share is None:
        why = VerdictReason.NO_PITCH
        if measured.is_by_hand:
            why = VerdictReason.TIMED_BY_HAND
        elif measured.total_s is None:
            why = VerdictReason.NO_VOICE
        return PartJudgement(Aspect.PITCH, Verdict.NOT_JUDGED, why)
    if abs(error) <= ON_PITCH_CENTS:
        if share >= ON_PITCH_SHARE:
            return PartJudgement(Aspect.PITCH, Verdict.MET, VerdictReason.ON_NOTE)
        return PartJudgement(Aspect.PITCH, Verdict.NOT_MET, VerdictReason.WANDERED)
    return PartJudgement(Aspect.PITCH, Verdict.NOT_MET, _pitch_reason(error))


def _pitch_reason(error_cents: float) -> VerdictReason:
    """Return an octave out is named as such, for it is another mistake than being flat."""
    if abs(error_cents + 1200) <= ON_PITCH_CENTS:
        return VerdictReason.OCTAVE_LOW
    if abs(error_cents - 1200) <= ON_PITCH_CENTS:
        return VerdictReason.OCTAVE_HIGH
    return VerdictReason.FLAT if error_cents < 0 else VerdictReason.SHARP
