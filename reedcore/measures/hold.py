"""A held voice: how long, how steady, on which note, how loud."""

from __future__ import annotations

from reedcore.acoustics import Analysis, Hold
from reedcore.acoustics import TakeKind as Sound
from reedcore.acoustics.holds.live_hold import Listening
from reedcore.acoustics.voice.quality import QualityReason
from reedcore.formats.analysis_json import sound_values
from reedcore.ladders import HOLD_RUNGS_S
from reedcore.targets import HoldTarget, Judgement, TrialMeasures, judge

from .common import (
    Columns,
    TrialContext,
    TrialGoal,
    breaks_from_start,
    no_level,
    no_spread,
    none_if_nan,
    shape,
    target,
)
from .doubts import is_spread_of_another
from .kind import HELD, DrawingKind, MeasureKind, asked_seconds

#: In a bout with breaths, the minimum length of a part, seconds (convention).
SHORTEST_PART_S = 0.5


#: Figures that are not reported for trills and bubbles (definition).
NOT_THE_VOICES: Columns = dict.fromkeys(
    (
        "cepstral_peak_db",
        "tremor_hz",
        "tremor_cents",
        "jitter_percent",
        "shimmer_percent",
        "hnr_db",
    )
)


def figures(
    goal: TrialGoal, analysis: Analysis, against: TrialContext
) -> tuple[Columns, Judgement]:
    """Return the figures and the verdict of a hold."""
    hold = analysis.longest
    columns = held_figures(analysis, hold)
    if goal.allows_breath and hold is not None:
        voiced = [each for each in analysis.holds if each.duration_s >= SHORTEST_PART_S]
        columns["total_s"] = round(sum(each.duration_s for each in voiced), 3)
        columns["figures"]["breaths_inside"] = max(0, len(voiced) - 1)
    if goal.is_chopped and hold is not None:
        columns["figures"] |= NOT_THE_VOICES
    rise_db, fall_db = shape(goal, analysis, hold, columns)
    level = columns.get("level_mean_dbfs")
    if level is not None and against.reference_dbfs is not None:
        columns["level_db"] = round(level - against.reference_dbfs, 2)
    judged = TrialMeasures(
        total_s=columns.get("total_s"),
        steady_s=columns.get("steady_s"),
        error_cents=columns.get("error_cents"),
        share_on_pitch=columns.get("share_on_pitch"),
        level_db=columns.get("level_db"),
        no_level=no_level(analysis, against),
        no_spread=no_spread(analysis),
        spread_cents=columns.get("spread_cents"),
        level_sd_db=columns.get("figures", {}).get("level_sd_db"),
        end_fall_db=columns.get("figures", {}).get("end_fall_db"),
        rise_db=rise_db,
        fall_db=fall_db,
    )
    return columns, judge(judged, target(goal, against.seconds))


def held_figures(analysis: Analysis, hold: Hold | None) -> Columns:
    """Return a hold's figures as columns."""
    if hold is None:
        return {}
    quality = analysis.quality
    level = hold.level if quality.level_judged else None
    has_pitch = QualityReason.PITCH_UNSURE not in quality.reasons
    is_even_told = quality.spread_judged and not is_spread_of_another(analysis, hold)
    return {
        "total_s": round(hold.duration_s, 3),
        "steady_s": none_if_nan(hold.steady_s) if quality.steady_judged else None,
        "median_hz": none_if_nan(hold.pitch.median_hz),
        "error_cents": none_if_nan(hold.target_error_cents),
        "end_error_cents": none_if_nan(hold.end_error_cents),
        # Where the pitch is unsure, a hold is not off the note either.
        "share_on_pitch": none_if_nan(hold.on_pitch_share) if has_pitch else None,
        "spread_cents": none_if_nan(hold.pitch.spread_cents) if is_even_told else None,
        "drift_cents": none_if_nan(hold.pitch.drift_cents),
        "level_mean_dbfs": none_if_nan(level.mean_dbfs) if level else None,
        "level_slope_db_per_s": none_if_nan(level.slope_db_per_s) if level else None,
        "breaks": breaks_from_start(hold),
        "figures": _evenness(hold, analysis),
    }


def _evenness(hold: Hold, analysis: Analysis) -> Columns:
    """Return further figures of a hold for clinicians; None if the recording does not allow one."""
    quality = analysis.quality
    level = hold.level if quality.level_judged else None
    tremor = hold.tremor if quality.voice_judged else None
    return {
        "level_sd_db": none_if_nan(level.sd_db) if level else None,
        "end_fall_db": none_if_nan(level.end_fall_db) if level else None,
        "voiced_share": none_if_nan(hold.voiced_fraction),
        "onset_rise_ms": none_if_nan(hold.onset_rise_ms),
        "cepstral_peak_db": none_if_nan(hold.cpps_db) if quality.voice_judged else None,
        **sound_values(hold, is_judged=quality.voice_judged),
        "tremor_hz": none_if_nan(tremor.rate_hz) if tremor else None,
        "tremor_cents": none_if_nan(tremor.extent_cents) if tremor else None,
    }


def judge_by_hand(seconds: float, target: HoldTarget) -> Judgement:
    """Judge the length that a stopwatch gives; the rest is not judged."""
    return judge(TrialMeasures(total_s=seconds, is_by_hand=True), target)


KIND = MeasureKind(
    "hold",
    asked_seconds,
    listens=Sound.HOLD,
    figures=figures,
    by_hand=judge_by_hand,
    figure=HELD,
    drawn=DrawingKind.REED,
    is_in_seconds=True,
    can_rise=True,
    rungs_s=HOLD_RUNGS_S,
    is_by_note=True,
    can_be_steady=True,
    can_be_shorter=True,
    live=Listening.HOLD,
    has_session_target=True,
    can_have_level=True,
    is_one_breath=True,
    can_decide=True,
    has_weekly_cap=True,
    unheard="No held voice was heard in this try, so nothing was measured.",
)
