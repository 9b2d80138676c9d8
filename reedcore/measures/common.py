"""Shared by the kinds of measure: the goal of a trial and its context."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from math import isfinite
from typing import Any

from reedcore.acoustics import Analysis, Hold
from reedcore.acoustics.moves.glide import Glide
from reedcore.acoustics.voice.levels import level_shape
from reedcore.acoustics.voice.quality import QualityReason
from reedcore.acoustics.voice.steadiness import middle_of
from reedcore.targets import Aspect, HoldTarget, Judgement, PartJudgement, Verdict
from reedcore.targets.judging import TargetShape, VerdictReason
from reedcore.targets.movements import GlideTarget

Columns = dict[str, Any]


@dataclass(frozen=True, slots=True)
class TrialContext:
    """Context that judging needs besides the sound.

    Attributes:
        reference_dbfs: the comfortable voice on the same device; None without one.
        seconds: the target set for this session, None for the task's own.
        is_processed: the browser changed the sound on its way.
    """

    reference_dbfs: float | None = None
    seconds: float | None = None
    is_processed: bool = False


@dataclass(frozen=True, slots=True)
class TrialGoal:
    """The goal of one trial of a task.

    Attributes:
        kind: its kind of measure, one of :data:`reedcore.measures.kinds.KINDS`.
        target: what a hold is held against; of lines, its level band alone.
        seconds: how long a try lasts, or is to last.
        note_hz: the note, None where any will do.
        glide: what a glide is asked for.
        pattern_hz: the notes of a pattern in order, rests left out.
        longest_gap_s: between a hiss and the voice.
        pulses: how many.
        allows_breath: a breath within it ends nothing.
        number: which round of a pattern, from 1; None for the whole.
        beat_s: where in the recording the beat fell that the start is held against; None where
            the device did not say.
        tempo_bpm: of that beat.
        is_chopped: the task is a trill or bubbles, so cepstrum and tremor are not reported.
    """

    kind: str
    target: HoldTarget
    seconds: float
    note_hz: float | None = None
    glide: GlideTarget = field(default_factory=GlideTarget)
    pattern_hz: tuple[float, ...] = ()
    longest_gap_s: float = 0.3
    pulses: int = 0
    allows_breath: bool = False
    number: int | None = None
    beat_s: float | None = None
    tempo_bpm: float = 0.0
    is_chopped: bool = False


def no_level(analysis: Analysis, against: TrialContext) -> VerdictReason:
    """Return the reason why a level is not judged, or None."""
    if against.is_processed:
        return VerdictReason.SOUND_CHANGED
    if QualityReason.CLIPPED in analysis.quality.reasons:
        return VerdictReason.CLIPPED
    if not analysis.quality.level_judged:
        return VerdictReason.ROOM_TOO_LOUD
    return VerdictReason.NO_REFERENCE


def no_spread(analysis: Analysis) -> VerdictReason:
    """Return the reason why the spread of a pitch is not judged, or None."""
    breathy = QualityReason.BREATH_TOO_LOUD_FOR_SPREAD in analysis.quality.reasons
    return VerdictReason.BREATHY if breathy else VerdictReason.ROOM_TOO_LOUD


def shape(
    goal: TrialGoal, analysis: Analysis, hold: Hold | None, columns: Columns
) -> tuple[float | None, float | None]:
    """Return the rise and the fall of the level if the task has a shape; stored with the
    figures."""
    if goal.target.shape is TargetShape.EVEN or hold is None or not analysis.quality.level_judged:
        return None, None
    found = level_shape(middle_of(analysis.frames[hold.frame_slice()]))
    if found is None:
        return None, None
    rise, fall = none_if_nan(found.rise_db), none_if_nan(found.fall_db)
    shape = {"rise_db": rise, "fall_db": fall, "peak_s": none_if_nan(found.peak_s)}
    columns["figures"] = {**columns.get("figures", {}), **shape}
    return rise, fall


def target(goal: TrialGoal, seconds: float | None) -> HoldTarget:
    """Return the target, with the seconds set for this session if any were."""
    return replace(goal.target, seconds=seconds) if seconds else goal.target


def breaks_from_start(hold: Hold | Glide) -> list[dict[str, float]]:
    """Return the breaks in seconds after the start, as pictures need them."""
    return [
        {
            "start_s": round(gap.start_s - hold.start_s, 3),
            "end_s": round(gap.end_s - hold.start_s, 3),
        }
        for gap in hold.breaks
    ]


def none_if_nan(value: float) -> float | None:
    """Return None for NaN: a database would sort and average NaN as a number."""
    return round(value, 4) if isfinite(value) else None


def nothing(part: Aspect, why: VerdictReason = VerdictReason.NO_VOICE) -> Judgement:
    """Return the judgement for something that was not there to be judged."""
    return Judgement((PartJudgement(part, Verdict.NOT_JUDGED, why),))
