"""Samples of one try → its figures, its trace and how it did, by the kind of measure.

A pure function of plain values, so that it can be done in another process than the one that asks.
What a recording does not bear is left unknown.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import isfinite
from typing import Any

from numpy.typing import NDArray

from reedcore.acoustics import Analysis, analyse
from reedcore.acoustics import TakeKind as Sound
from reedcore.acoustics.voice.levels import smoothed_dbfs
from reedcore.errors import RecordingTooLong
from reedcore.formats.trace import pack_trace, trace_of
from reedcore.progress import voice_load_of
from reedcore.targets import Judgement

from .common import Columns, TrialContext, TrialGoal, none_if_nan
from .doubts import doubt_about, doubtful, not_judged
from .kind import MeasureKind
from .kinds import KINDS

#: Maximum duration of a trial, seconds; a longer recording is something else.
LONGEST_TRY_S = 300.0


@dataclass(frozen=True, slots=True)
class Measurement:
    """The measurement of one trial.

    Attributes:
        columns: its figures by name; what could not be measured is None or missing.
        trace: pitch and level, packed (:mod:`reedcore.formats.trace`); None where nothing sounded.
        judgement: how it did.
    """

    columns: Columns
    trace: bytes | None
    judgement: Judgement


def measure_trial(
    goal: TrialGoal, against: TrialContext, samples: NDArray[Any], rate_hz: int
) -> Measurement:
    """Measure a take of a task.

    Args:
        samples: shape ``(n,)`` or ``(n, channels)``, PCM integers or floats with full scale at ±1.
        rate_hz: sampling rate, 8–96 kHz.

    Raises:
        reedcore.errors.Refusal: the sound cannot be measured.
        ValueError: the kind is reported by the client, not measured.
    """
    check_length(len(samples) / rate_hz)
    kind = KINDS[goal.kind]
    if kind.listens is None or kind.figures is None:
        raise ValueError(f"nothing to hear in {goal.kind}")
    analysis = analyse(
        samples,
        rate_hz,
        task=kind.listens,
        target_hz=goal.note_hz,
        is_processed=against.is_processed,
    )
    columns, judgement = kind.figures(goal, analysis, against)
    doubt = doubt_about(analysis, samples, rate_hz) if kind.listens is Sound.HOLD else None
    if doubt and analysis.longest is not None:
        columns, judgement = doubtful(columns), not_judged(judgement, doubt)
    quality = analysis.quality
    if not doubt and (load := _load(kind, analysis)):
        columns["figures"] = {**columns.get("figures", {}), **load}
    columns |= {
        "recording_s": analysis.duration_s,
        "sample_rate_hz": rate_hz,
        "noise_floor_dbfs": none_if_nan(quality.noise_floor_dbfs),
        "snr_db": none_if_nan(quality.snr_db),
        "clipped_fraction": quality.clipped_fraction,
        "reasons": [reason.value for reason in quality.reasons],
    }
    return Measurement(_known_only(columns), _trace(kind, analysis), judgement)


def _known_only(value: Any) -> Any:
    """Return a copy with None in place of NaN and infinity: JSON in a database has no NaN, and one
    missing figure would lose the whole trial."""
    if isinstance(value, Mapping):
        return {name: _known_only(each) for name, each in value.items()}
    if isinstance(value, list | tuple):
        return [_known_only(each) for each in value]
    return None if isinstance(value, float) and not isfinite(value) else value


def check_length(seconds: float) -> None:
    """Refuse a recording longer than any try.

    Raises:
        RecordingTooLong: more than :data:`LONGEST_TRY_S`.
    """
    if seconds > LONGEST_TRY_S:
        raise RecordingTooLong(duration_s=seconds, longest_s=LONGEST_TRY_S)


def _load(kind: MeasureKind, analysis: Analysis) -> Columns:
    """Return how long the voice sounded in it, and how often the folds met; empty without
    a voice."""
    frames = analysis.frames
    if kind.listens is Sound.HISS:
        return {}  # A pitch in it would be accidental.
    if not kind.is_by_line:
        if analysis.longest is None:
            return {}
        frames = frames[analysis.longest.frame_slice()]
    load = voice_load_of(frames.pitch_hz)
    if not load.voiced_s:
        return {}
    return {"load_s": round(load.voiced_s, 2), "cycles": round(load.cycles)}


def _trace(kind: MeasureKind, analysis: Analysis) -> bytes | None:
    hold = analysis.longest
    if kind.is_by_line and len(analysis.frames):
        return pack_trace(trace_of(analysis.frames.pitch_hz, smoothed_dbfs(analysis.frames)))
    if hold is None:
        return None
    held = analysis.frames[hold.frame_slice()]
    return pack_trace(trace_of(held.pitch_hz, smoothed_dbfs(held)))
