"""Notes in a row: which were on pitch."""

from __future__ import annotations

from collections.abc import Mapping
from math import isfinite
from typing import Any

import numpy as np

from reedcore.acoustics import Analysis
from reedcore.acoustics import TakeKind as Sound
from reedcore.acoustics.moves.following import follow
from reedcore.catalogue.tasks import Task
from reedcore.targets import Aspect, Judgement, PartJudgement, Verdict
from reedcore.targets.judging import ON_PITCH_SHARE, VerdictReason

from .common import Columns, TrialContext, TrialGoal, none_if_nan, nothing
from .kind import DrawingKind, Figure, MeasureKind

#: Defaults: notes of the growing pattern, and tempo.
GROWING_BEATS, USUAL_TEMPO, USUAL_PULSES = 29, 90.0, 8


def figures(
    goal: TrialGoal, analysis: Analysis, against: TrialContext
) -> tuple[Columns, Judgement]:
    """Return the figures and the verdict of notes sung one after the other."""
    asked_hz = goal.pattern_hz
    if not asked_hz:  # Any easy notes: only that something was sung can be judged.
        hold = analysis.longest
        lasted: Columns = {"total_s": round(hold.duration_s, 3)} if hold else {}
        return lasted, nothing(Aspect.PITCH, VerdictReason.NO_PITCH)
    notes = follow(analysis.frames, asked_hz)
    sung = [note for note in notes if isfinite(note.error_cents)]
    if not sung:
        return {}, nothing(Aspect.PITCH)
    right = sum(note.on_pitch for note in notes)
    met = right >= ON_PITCH_SHARE * len(notes)
    columns: Columns = {
        "total_s": round(sung[-1].end_s - sung[0].start_s, 3),
        "share_on_pitch": round(right / len(notes), 3),
        "error_cents": round(float(np.median([note.error_cents for note in sung])), 1),
        "figures": {
            **({"round": goal.number} if goal.number else {}),
            "notes_asked": len(notes),
            "notes_on_pitch": right,
            "errors_cents": [none_if_nan(note.error_cents) for note in notes],
        },
    }
    why = VerdictReason.ON_NOTE if met else VerdictReason.WANDERED
    verdict = Verdict.MET if met else Verdict.NOT_MET
    return columns, Judgement((PartJudgement(Aspect.PITCH, verdict, why),))


def seconds(task: Task, params: Mapping[str, Any]) -> float:
    """Return all its rounds at their tempo."""
    usual = GROWING_BEATS if task.growing else int(params.get("pulses", USUAL_PULSES))
    beats = len(task.degrees) or usual
    rounds = 1 + int(params.get("rounds_down", 0)) + int(params.get("rounds_up", 0))
    return beats * rounds * 60.0 / float(params.get("tempo", USUAL_TEMPO))


def _percent_on_pitch(
    figures: Mapping[str, Any], share: float | None, counted: float | None
) -> float | None:
    return None if share is None else 100.0 * share


KIND = MeasureKind(
    "pattern",
    seconds,
    listens=Sound.GLIDE,
    figures=figures,
    figure=Figure("notes on pitch", "%", _percent_on_pitch),
    drawn=DrawingKind.COURSE,
    is_followed=True,
    can_decide=True,
    end_silence_s=2.0,
    needs_file=True,
    unheard="None of the notes was heard in this try, so nothing was measured.",
)
