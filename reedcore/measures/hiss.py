"""A hiss: how long."""

from __future__ import annotations

from reedcore.acoustics import Analysis, QualityReason
from reedcore.acoustics import TakeKind as Sound
from reedcore.acoustics.holds.live_hold import Listening
from reedcore.ladders import HISS_RUNGS_S
from reedcore.targets import HoldTarget, Judgement, TrialMeasures
from reedcore.targets.judging import judge_shape
from reedcore.targets.movements import judge_hiss

from .common import Columns, TrialContext, TrialGoal, none_if_nan, shape
from .kind import HELD, DrawingKind, MeasureKind, asked_seconds


def figures(
    goal: TrialGoal, analysis: Analysis, against: TrialContext
) -> tuple[Columns, Judgement]:
    """Return the figures and the verdict of a hiss."""
    hold = analysis.longest
    seconds = round(hold.duration_s, 3) if hold else None
    narrow = QualityReason.NARROW_BAND in analysis.quality.reasons and hold is None
    columns: Columns = {"total_s": seconds}
    if hold and analysis.quality.level_judged:
        columns["figures"] = {"level_sd_db": none_if_nan(hold.level.sd_db)}
    lasted = judge_hiss(seconds, target_s=against.seconds or goal.seconds, is_narrow=narrow)
    rise_db, fall_db = shape(goal, analysis, hold, columns)
    measured = TrialMeasures(total_s=seconds, rise_db=rise_db, fall_db=fall_db)
    return columns, Judgement((*lasted.parts, *judge_shape(measured, goal.target.shape)))


def judge_by_hand(seconds: float, target: HoldTarget) -> Judgement:
    """Judge the length that a stopwatch gives; the rest is not judged."""
    return judge_hiss(seconds, target_s=target.seconds, is_by_hand=True)


KIND = MeasureKind(
    "hiss",
    asked_seconds,
    listens=Sound.HISS,
    figures=figures,
    by_hand=judge_by_hand,
    live=Listening.HISS,
    is_air=True,
    has_session_target=True,
    figure=HELD,
    drawn=DrawingKind.STRAIGHT,
    is_in_seconds=True,
    can_rise=True,
    rungs_s=HISS_RUNGS_S,
    is_one_breath=True,
    can_decide=True,
    unheard="No hiss was heard in this try, so nothing was measured.",
)
