"""A start on its beat, where the device says when that was."""

from __future__ import annotations

from dataclasses import replace

from reedcore.acoustics import Analysis
from reedcore.acoustics.moves.beat import against_beat
from reedcore.targets import Aspect, Judgement, PartJudgement, Verdict
from reedcore.targets.judging import VerdictReason

from . import hold
from .common import Columns, TrialContext, TrialGoal, nothing

#: A start within this share of a beat is on the beat (convention); a device places its beat to
#: within a few hundredths of a second.
ON_BEAT = 0.25


def figures(
    goal: TrialGoal, analysis: Analysis, against: TrialContext
) -> tuple[Columns, Judgement]:
    """Return how long it sounded, and how early or late it began."""
    sounded = analysis.longest
    if sounded is None:
        return {}, nothing(Aspect.START)
    columns: Columns = {"total_s": round(sounded.duration_s, 3)}
    if goal.beat_s is None or not goal.tempo_bpm:
        return columns, nothing(Aspect.START, VerdictReason.NO_BEAT)
    off = against_beat(start_s=sounded.start_s, beat_s=goal.beat_s, beats_per_minute=goal.tempo_bpm)
    columns["figures"] = {"late_ms": round(off.ms), "late_beats": round(off.beats, 2)}
    if abs(off.beats) <= ON_BEAT:
        return columns, Judgement(
            (PartJudgement(Aspect.START, Verdict.MET, VerdictReason.ON_BEAT),)
        )
    why = VerdictReason.LATE if off.beats > 0 else VerdictReason.EARLY
    return columns, Judgement((PartJudgement(Aspect.START, Verdict.NOT_MET, why),))


KIND = replace(hold.KIND, code="on_the_beat", figures=figures)
