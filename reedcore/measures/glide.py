"""A glide: direction, range, breaks and jumps."""

from __future__ import annotations

from reedcore.acoustics import Analysis
from reedcore.acoustics import TakeKind as Sound
from reedcore.acoustics.moves.glide import glide_of
from reedcore.targets import Judgement, PartJudgement, TrialMeasures
from reedcore.targets.judging import judge_level
from reedcore.targets.movements import GlideMeasured, judge_glide

from .common import Columns, TrialContext, TrialGoal, breaks_from_start, no_level, none_if_nan
from .kind import DrawingKind, Figure, MeasureKind, asked_seconds


def figures(
    goal: TrialGoal, analysis: Analysis, against: TrialContext
) -> tuple[Columns, Judgement]:
    """Return the figures and the verdict of a glide."""
    glide = glide_of(analysis.frames, spans_breaths=True) if goal.allows_breath else analysis.glide
    if glide is None:
        return {}, judge_glide(None, goal.glide)
    columns = {
        "total_s": round(glide.end_s - glide.start_s, 3),
        "breaks": breaks_from_start(glide),
        "figures": {
            "semitones": round(glide.span_semitones, 1),
            "low_hz": round(glide.low_hz, 2),
            "high_hz": round(glide.high_hz, 2),
            "direction": glide.direction.value,
            "circles": glide.cycles,
            "jumps": [
                {"hz": round(jump.hz, 1), "semitones": round(jump.semitones, 1)}
                for jump in glide.jumps
            ],
        },
    }
    measured = GlideMeasured(
        glide.span_semitones,
        len(glide.breaks),
        len(glide.jumps),
        up_st=glide.rise_st,
        down_st=glide.fall_st,
    )
    judgement = judge_glide(measured, goal.glide)
    level = _glide_level(goal, analysis, against, columns)
    return columns, Judgement((*judgement.parts, *level))


def _glide_level(
    goal: TrialGoal, analysis: Analysis, against: TrialContext, columns: Columns
) -> tuple[PartJudgement, ...]:
    """Return a glide's level against its floor or ceiling, if it has one; stored either way."""
    hold = analysis.longest
    if hold is not None and analysis.quality.level_judged:
        columns["level_mean_dbfs"] = mean = none_if_nan(hold.level.mean_dbfs)
        if mean is not None and against.reference_dbfs is not None:
            columns["level_db"] = round(mean - against.reference_dbfs, 2)
    floor, ceiling = goal.target.floor_db, goal.target.ceiling_db
    if floor is None and ceiling is None:
        return ()
    judged = TrialMeasures(
        total_s=columns["total_s"],
        level_db=columns.get("level_db"),
        no_level=no_level(analysis, against),
    )
    return (judge_level(judged, floor, ceiling),)


KIND = MeasureKind(
    "glide",
    asked_seconds,
    listens=Sound.GLIDE,
    figures=figures,
    figure=Figure("span", "semitones", lambda figures, share, counted: figures.get("semitones")),
    drawn=DrawingKind.COURSE,
    can_have_level=True,
    is_one_breath=True,
    can_decide=True,
    unheard="No glide was heard in this try, so nothing was measured.",
)
