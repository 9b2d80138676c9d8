"""Pulses, bursts before a long rest, and air before voice: rhythms and joins without notes."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np

from reedcore.acoustics import Analysis
from reedcore.acoustics import TakeKind as Sound
from reedcore.acoustics.moves.bursts import LONGEST_PULSE_S, bursts_of
from reedcore.acoustics.runs import runs
from reedcore.acoustics.settings import HOP_S
from reedcore.targets import Aspect, Judgement, PartJudgement, Verdict
from reedcore.targets.judging import VerdictReason
from reedcore.targets.movements import judge_pulses

from . import hiss, hold, pattern

#: The long rest after the bursts exceeds any burst.
LONG_S = LONGEST_PULSE_S
#: Minimum air before the voice, seconds (convention).
AIR_FIRST_S = 0.3
#: Maximum gap between air and voice, seconds.
JOINS_S = 0.15
BURSTS = 4


def pulses(analysis: Analysis, required: int) -> tuple[dict[str, Any], Judgement]:
    """Measure pulses at a beat: their number and evenness."""
    found = bursts_of(analysis.frames)
    count = len(found.pulses)
    if not count:
        return {}, _not_sounded(Aspect.PULSES)
    columns = {
        "total_s": round(found.pulses[-1][1] - found.pulses[0][0], 3),
        "figures": {
            "pulses": count,
            "pulses_asked": required,
            "interval_s": _round_if_known(found.interval_s),
            "unevenness": _round_if_known(found.unevenness),
        },
    }
    return columns, judge_pulses(count, found.unevenness, required=required)


def bursts_then_long(analysis: Analysis) -> tuple[dict[str, Any], Judgement]:
    """Measure four strong bursts and the rest after them."""
    spans = bursts_of(analysis.frames).spans_s
    if not spans:
        return {}, _not_sounded(Aspect.PULSES)
    short = [each for each in spans if each[1] - each[0] <= LONG_S]
    long_ones = [each for each in spans if each[1] - each[0] > LONG_S]
    rest_s = max((end - start for start, end in long_ones), default=0.0)
    columns = {
        "total_s": round(spans[-1][1] - spans[0][0], 3),
        "figures": {"pulses": len(short), "pulses_asked": BURSTS, "rest_s": round(rest_s, 2)},
    }
    counted = judge_pulses(len(short), None, required=BURSTS)
    rested = bool(long_ones) and long_ones[-1] == spans[-1]
    rest = PartJudgement(
        Aspect.REST,
        Verdict.MET if rested else Verdict.NOT_MET,
        VerdictReason.RESTED if rested else VerdictReason.NO_REST,
    )
    return columns, Judgement((*counted.parts, rest))


def air_then_voice(analysis: Analysis) -> tuple[dict[str, Any], Judgement]:
    """Measure air, bubbles or a silent trill before the voice joins."""
    frames, floor = analysis.frames, analysis.quality.noise_floor_dbfs
    voiced = [(a, b) for a, b in runs(frames.periodic) if (b - a) * HOP_S >= AIR_FIRST_S]
    if not voiced:
        return {}, _not_sounded(Aspect.AIR)
    start, end = voiced[0][0], max(b for _, b in voiced)
    sounding = frames.level_dbfs > floor + 6.0
    reach, quiet = start, 0
    while reach > 0 and quiet * HOP_S <= JOINS_S:
        reach -= 1
        quiet = 0 if sounding[reach] and not frames.periodic[reach] else quiet + 1
    air_s = float(np.count_nonzero(sounding[reach:start] & ~frames.periodic[reach:start]) * HOP_S)
    columns = {
        "total_s": round((end - start) * HOP_S, 3),
        "figures": {"air_s": round(air_s, 2), "voiced_s": round((end - start) * HOP_S, 2)},
    }
    first = air_s >= AIR_FIRST_S
    why = VerdictReason.AIR_FIRST if first else VerdictReason.VOICE_AT_ONCE
    return columns, Judgement(
        (PartJudgement(Aspect.AIR, Verdict.MET if first else Verdict.NOT_MET, why),)
    )


def _not_sounded(part: Aspect) -> Judgement:
    return Judgement((PartJudgement(part, Verdict.NOT_JUDGED, VerdictReason.NOTHING_SOUNDED),))


def _round_if_known(value: float | None) -> float | None:
    return None if value is None else round(value, 3)


PULSES = replace(
    pattern.KIND,
    code="pulses",
    listens=Sound.HISS,
    figures=lambda goal, analysis, against: pulses(analysis, goal.pulses),
)
BURSTS_THEN_LONG = replace(
    hiss.KIND,
    code="bursts_then_long",
    figures=lambda goal, analysis, against: bursts_then_long(analysis),
)
AIR_THEN_VOICE = replace(
    hold.KIND,
    code="air_then_voice",
    figures=lambda goal, analysis, against: air_then_voice(analysis),
)
