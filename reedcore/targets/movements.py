"""Judgement of glides, joined sounds and hisses against their task; three answers, as for holds."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from .judging import Aspect, Judgement, PartJudgement, Verdict, VerdictReason, has_reached

#: Tolerance at the end of a glide, semitones (convention).
NEAR_ST = 1.0
#: Time resolution of a hiss and a voice, each 10 ms.
JOIN_CLOCK_S = 0.02


#: A glide in one direction moves at least this many times further that way than back; in both
#: directions, the shorter way is at least this share of the longer one (conventions).
ONE_WAY, BOTH_WAYS = 2.0, 0.5
#: Minimum rise or fall, semitones.
LEAST_ST = 2.0
#: Pulses are even if their intervals vary by at most this share (convention).
EVEN_PULSES = 0.15


class MovementDirection(StrEnum):
    """The direction of a glide; hills, circles and sirens go up *and* down."""

    ANY = ""
    UP = "up"
    DOWN = "down"
    UP_AND_DOWN = "up_and_down"


@dataclass(frozen=True, slots=True)
class GlideTarget:
    """The target of a glide; None and False set nothing.

    Attributes:
        semitones: how far, from its lowest to its highest pitch.
        is_unbroken: without a break in the voice.
        no_jump: without a jump from one register to the other.
        way: which way it goes.
    """

    semitones: float | None = None
    is_unbroken: bool = False
    no_jump: bool = False
    way: MovementDirection = MovementDirection.ANY


@dataclass(frozen=True, slots=True)
class GlideMeasured:
    """The measures of a glide. None for all of them if no glide was found.

    Attributes:
        semitones: from the lowest to the highest pitch that lasted.
        breaks, jumps: how many.
        up_st, down_st: all its rises and all its falls added up, semitones.
    """

    semitones: float
    breaks: int
    jumps: int
    up_st: float = 0.0
    down_st: float = 0.0


def judge_glide(
    measured: GlideMeasured | None, target: GlideTarget, *, is_by_hand: bool = False
) -> Judgement:
    """Return the judgement of a glide. Without further targets, any glide meets it."""
    parts: list[tuple[Aspect, bool, VerdictReason, VerdictReason]] = []
    if measured is None:
        why = VerdictReason.TIMED_BY_HAND if is_by_hand else VerdictReason.NO_VOICE
        return Judgement((PartJudgement(Aspect.SPAN, Verdict.NOT_JUDGED, why),))
    wide = target.semitones is None or measured.semitones >= target.semitones - NEAR_ST
    parts.append((Aspect.SPAN, wide, VerdictReason.SPANNED, VerdictReason.TOO_NARROW))
    if target.way is not MovementDirection.ANY:
        parts.append(
            (
                Aspect.WAY,
                _is_in_direction(measured, target.way),
                VerdictReason.RIGHT_WAY,
                VerdictReason.WRONG_WAY,
            )
        )
    if target.is_unbroken:
        parts.append(
            (Aspect.BREAKS, measured.breaks == 0, VerdictReason.UNBROKEN, VerdictReason.BROKEN)
        )
    if target.no_jump:
        parts.append(
            (Aspect.JUMPS, measured.jumps == 0, VerdictReason.NO_JUMP, VerdictReason.JUMPED)
        )
    return _judge_reported(parts)


def _is_in_direction(measured: GlideMeasured, way: MovementDirection) -> bool:
    up, down = measured.up_st, measured.down_st
    if way is MovementDirection.UP:
        return up >= LEAST_ST and up >= ONE_WAY * down
    if way is MovementDirection.DOWN:
        return down >= LEAST_ST and down >= ONE_WAY * up
    return min(up, down) >= max(LEAST_ST, BOTH_WAYS * max(up, down))


def judge_pulses(count: int, unevenness: float | None, *, required: int) -> Judgement:
    """Return the judgement of a row of pulses; ``unevenness`` is None if not part of the target or
    unknown."""
    parts = [
        (
            Aspect.PULSES,
            count >= required,
            VerdictReason.ENOUGH_PULSES,
            VerdictReason.TOO_FEW_PULSES,
        )
    ]
    if unevenness is not None:
        even = unevenness <= EVEN_PULSES
        parts.append(
            (Aspect.EVENNESS, even, VerdictReason.EVEN_PULSES, VerdictReason.UNEVEN_PULSES)
        )
    return _judge_reported(parts)


def judge_join(gap_s: float | None, *, longest_gap_s: float) -> Judgement:
    """Return the judgement of a hiss followed by a voice; ``gap_s`` is None if they were not found.

    Args:
        longest_gap_s: 0 asks for none at all.
    """
    if gap_s is None:
        return Judgement((PartJudgement(Aspect.JOIN, Verdict.NOT_JUDGED, VerdictReason.NO_HISS),))
    joined = gap_s <= longest_gap_s + JOIN_CLOCK_S
    return _judge_reported([(Aspect.JOIN, joined, VerdictReason.JOINED, VerdictReason.GAPPED)])


def judge_hiss(
    seconds: float | None, *, target_s: float, is_narrow: bool = False, is_by_hand: bool = False
) -> Judgement:
    """Return how long a hiss lasted; ``is_narrow``: the recording cannot hold one (MEASURES
    §5.2)."""
    if seconds is None or (is_narrow and not is_by_hand):
        why = VerdictReason.NARROW_BAND if is_narrow else VerdictReason.NO_HISS
        return Judgement((PartJudgement(Aspect.SECONDS, Verdict.NOT_JUDGED, why),))
    return _judge_reported(
        [
            (
                Aspect.SECONDS,
                has_reached(seconds, target_s),
                VerdictReason.REACHED,
                VerdictReason.SHORT,
            )
        ]
    )


def _judge_reported(parts: list[tuple[Aspect, bool, VerdictReason, VerdictReason]]) -> Judgement:
    return Judgement(
        tuple(
            PartJudgement(part, Verdict.MET if met else Verdict.NOT_MET, yes if met else no)
            for part, met, yes, no in parts
        )
    )
