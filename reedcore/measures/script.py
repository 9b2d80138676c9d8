"""Spoken lines: voiced time, level, pauses."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from reedcore.acoustics import Analysis
from reedcore.acoustics import TakeKind as Sound
from reedcore.acoustics.moves.speech import SpeechDoubt
from reedcore.catalogue.tasks import Task
from reedcore.targets import Aspect, Judgement, TrialMeasures, judge
from reedcore.targets.judging import VerdictReason

from .common import Columns, TrialContext, TrialGoal, no_level, none_if_nan, nothing, target
from .kind import Figure, MeasureKind

#: Defaults: duration of a line, and lines per set (conventions).
A_LINE_S, LINES_A_SET = 6.0, 10
_REASONS = {
    SpeechDoubt.ROOM_TOO_LOUD: VerdictReason.ROOM_TOO_LOUD,
    SpeechDoubt.ANOTHER_VOICE: VerdictReason.ANOTHER_VOICE,
}


def figures(
    goal: TrialGoal, analysis: Analysis, against: TrialContext
) -> tuple[Columns, Judgement]:
    """Return the figures and the verdict of lines that were spoken."""
    speech = analysis.speech
    if speech is None:
        return {}, nothing(Aspect.SECONDS)
    if speech.doubt:
        of_level = goal.target.floor_db is not None or goal.target.ceiling_db is not None
        return {}, nothing(Aspect.LEVEL if of_level else Aspect.SECONDS, _REASONS[speech.doubt])
    level = speech.level_median_dbfs if analysis.quality.level_judged else None
    columns: Columns = {
        "total_s": round(speech.voiced_s, 3),
        "median_hz": none_if_nan(speech.f0_median_hz),
        "level_mean_dbfs": none_if_nan(level) if level is not None else None,
        "figures": {
            "voiced_s": round(speech.voiced_s, 2),
            "pauses": len(speech.pauses) if speech.has_clear_pauses else None,
            "breaths_per_min": none_if_nan(speech.breaths_per_min)
            if speech.has_clear_pauses
            else None,
            "phonation_ratio": none_if_nan(speech.phonation_ratio)
            if speech.has_clear_pauses
            else None,
            "syllables_per_s": none_if_nan(speech.syllables_per_s)
            if speech.has_clear_pauses
            else None,
            "cepstral_peak_db": none_if_nan(speech.cpps_db),
            "range_st": none_if_nan(speech.f0_range_semitones),
        },
    }
    if goal.target.floor_db is None and goal.target.ceiling_db is None:
        return columns, Judgement(())
    if level is not None and against.reference_dbfs is not None:
        columns["level_db"] = round(level - against.reference_dbfs, 2)
    judged = TrialMeasures(
        total_s=columns["total_s"],
        level_db=columns.get("level_db"),
        no_level=no_level(analysis, against),
    )
    whole = judge(judged, target(goal, 0.5))
    return columns, Judgement(tuple(each for each in whole.parts if each.part is Aspect.LEVEL))


def seconds(task: Task, params: Mapping[str, Any]) -> float:
    """Return all its lines."""
    usual = LINES_A_SET * float(params.get("sets", 1))
    return A_LINE_S * float(params.get("lines", 0) or usual)


KIND = MeasureKind(
    "script",
    seconds,
    listens=Sound.SPEECH,
    figures=figures,
    figure=Figure("voiced", "s", lambda figures, share, counted: counted),
    can_have_level=True,
    has_lead_in=False,
    is_by_line=True,
    # Allow time to think between two lines.
    end_silence_s=6.0,
    unheard="Nobody was heard to speak in this try, so nothing was measured.",
)
