"""/s/ that joins /z/: how long each, and the gap between."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from reedcore.acoustics import Analysis
from reedcore.acoustics import TakeKind as Sound
from reedcore.catalogue.tasks import Task
from reedcore.targets import Judgement
from reedcore.targets.movements import judge_join

from .common import Columns, TrialContext, TrialGoal, none_if_nan
from .kind import Figure, MeasureKind

#: Default duration, seconds (convention).
USUAL_S = 8.0


def figures(
    goal: TrialGoal, analysis: Analysis, against: TrialContext
) -> tuple[Columns, Judgement]:
    """Return the figures and the verdict of air first and the voice that joins it."""
    pair = analysis.s_to_z
    if pair is None:
        return {}, judge_join(None, longest_gap_s=goal.longest_gap_s)
    columns = {
        "total_s": round(pair.z_end_s - pair.s_start_s, 3),
        "figures": {
            "s_s": round(pair.s_duration_s, 2),
            "z_s": round(pair.z_duration_s, 2),
            "gap_s": round(pair.gap_s, 3),
            "z_hz": none_if_nan(round(pair.z_hz, 2)),
            "z_onset_ms": none_if_nan(round(pair.z_onset_rise_ms, 1)),
        },
    }
    return columns, judge_join(pair.gap_s, longest_gap_s=goal.longest_gap_s)


def seconds(task: Task, params: Mapping[str, Any]) -> float:
    """Return both parts, or its own number of seconds."""
    if "seconds" in params:
        return float(params["seconds"])
    return float(params.get("s_s", 0.0)) + float(params.get("z_s", 0.0)) or USUAL_S


KIND = MeasureKind(
    "compound",
    seconds,
    listens=Sound.S_TO_Z,
    figures=figures,
    figure=Figure("“s” and “z” together", "s", lambda figures, share, counted: counted),
    can_decide=True,
    end_silence_s=1.2,
    needs_file=True,
    unheard="The “s” and the “z” were not both heard, so nothing was measured.",
)
