"""Samples of one try → its figures, its trace and how it did, by the kind of measure.

A pure function of plain values, so that it can be done in another process than the one that asks.
What a recording does not bear is left unknown.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from math import isfinite
from typing import Any

import numpy as np
from numpy.typing import NDArray

from reedcore.acoustics import Analysis, Hold, QualityReason, Task, analyse
from reedcore.acoustics.following import follow
from reedcore.acoustics.glide import Glide, Movement, glide_of
from reedcore.acoustics.levels import level_shape, smoothed_dbfs
from reedcore.acoustics.steadiness import middle_of
from reedcore.errors import RecordingTooLong
from reedcore.formats.trace import pack_trace, trace_of
from reedcore.targets import (
    HoldTarget,
    Judgement,
    Measured,
    Part,
    PartJudgement,
    Verdict,
    judge,
)
from reedcore.targets.judging import ON_PITCH_SHARE, Shape, Why, judge_level, judge_shape
from reedcore.targets.movements import (
    GlideMeasured,
    GlideTarget,
    judge_glide,
    judge_hiss,
    judge_join,
)

from . import bursts

#: What each kind of measure is listened for. The others are told by the client, not heard.
LISTENED_FOR = {
    "hold": Task.HOLD,
    "hiss": Task.HISS,
    "compound": Task.S_TO_Z,
    "glide": Task.GLIDE,
    "pattern": Task.GLIDE,
    "script": Task.SPEECH,
    "pulses": Task.HISS,
    "bursts_then_long": Task.HISS,
    "air_then_voice": Task.HOLD,
    "on_the_beat": Task.HOLD,
}
#: No try lasts longer, seconds; a longer recording is of something else.
LONGEST_TRY_S = 300.0
Columns = dict[str, Any]


@dataclass(frozen=True, slots=True)
class Against:
    """What the judging needs besides the sound.

    Attributes:
        reference_dbfs: the comfortable voice on the same device; None without one.
        seconds: the target set for this session, None for the task's own.
        processed: the browser changed the sound on its way.
    """

    reference_dbfs: float | None = None
    seconds: float | None = None
    processed: bool = False


@dataclass(frozen=True, slots=True)
class Wanted:
    """What a task asks of one try.

    Attributes:
        kind: its kind of measure, one of :data:`LISTENED_FOR`.
        target: what a hold is held against; of lines, its level band alone.
        seconds: how long a try lasts, or is to last.
        note_hz: the note, None where any will do.
        glide: what a glide is asked for.
        pattern_hz: the notes of a pattern in order, rests left out.
        longest_gap_s: between a hiss and the voice.
        pulses: how many.
        breath_inside: a breath within it ends nothing.
    """

    kind: str
    target: HoldTarget
    seconds: float
    note_hz: float | None = None
    glide: GlideTarget = field(default_factory=GlideTarget)
    pattern_hz: tuple[float, ...] = ()
    longest_gap_s: float = 0.3
    pulses: int = 0
    breath_inside: bool = False


@dataclass(frozen=True, slots=True)
class Heard:
    """One try, measured.

    Attributes:
        columns: its figures by name; what could not be measured is None or missing.
        trace: pitch and level, packed (:mod:`reedcore.formats.trace`); None where nothing sounded.
        judgement: how it did.
    """

    columns: Columns
    trace: bytes | None
    judgement: Judgement


def measured(wanted: Wanted, against: Against, samples: NDArray[Any], rate_hz: int) -> Heard:
    """Measures a take of a task.

    Args:
        samples: shape ``(n,)`` or ``(n, channels)``, PCM integers or floats with full scale at ±1.
        rate_hz: sampling rate, 8–96 kHz.

    Raises:
        reedcore.errors.Refusal: the sound cannot be measured.
    """
    check_length(len(samples) / rate_hz)
    analysis = analyse(
        samples,
        rate_hz,
        task=LISTENED_FOR[wanted.kind],
        target_hz=wanted.note_hz,
        processed=against.processed,
    )
    columns, judgement = _KINDS[wanted.kind](wanted, analysis, against)
    quality = analysis.quality
    columns |= {
        "recording_s": analysis.duration_s,
        "sample_rate_hz": rate_hz,
        "noise_floor_dbfs": known(quality.noise_floor_dbfs),
        "snr_db": known(quality.snr_db),
        "clipped_fraction": quality.clipped_fraction,
        "reasons": [reason.value for reason in quality.reasons],
    }
    return Heard(columns, _trace(wanted.kind, analysis), judgement)


def check_length(seconds: float) -> None:
    """Refuses what is longer than any try.

    Raises:
        RecordingTooLong: more than :data:`LONGEST_TRY_S`.
    """
    if seconds > LONGEST_TRY_S:
        raise RecordingTooLong(duration_s=seconds, longest_s=LONGEST_TRY_S)


def _hold(wanted: Wanted, analysis: Analysis, against: Against) -> tuple[Columns, Judgement]:
    hold = analysis.longest
    columns = _figures(analysis, hold)
    rise_db, fall_db = _shape(wanted, analysis, hold, columns)
    level = columns.get("level_mean_dbfs")
    if level is not None and against.reference_dbfs is not None:
        columns["level_db"] = round(level - against.reference_dbfs, 2)
    judged = Measured(
        total_s=columns.get("total_s"),
        steady_s=columns.get("steady_s"),
        error_cents=columns.get("error_cents"),
        share_on_pitch=columns.get("share_on_pitch"),
        level_db=columns.get("level_db"),
        no_level=_no_level(analysis, against),
        spread_cents=columns.get("spread_cents"),
        level_sd_db=columns.get("figures", {}).get("level_sd_db"),
        end_fall_db=columns.get("figures", {}).get("end_fall_db"),
        rise_db=rise_db,
        fall_db=fall_db,
    )
    return columns, judge(judged, _target(wanted, against.seconds))


def _no_level(analysis: Analysis, against: Against) -> Why:
    if against.processed:
        return Why.SOUND_CHANGED
    if not analysis.quality.level_judged:
        return Why.ROOM_TOO_LOUD
    return Why.NO_REFERENCE


def _hiss(wanted: Wanted, analysis: Analysis, against: Against) -> tuple[Columns, Judgement]:
    hold = analysis.longest
    seconds = round(hold.duration_s, 3) if hold else None
    narrow = QualityReason.NARROW_BAND in analysis.quality.reasons and hold is None
    columns: Columns = {"total_s": seconds}
    if hold and analysis.quality.level_judged:
        columns["figures"] = {"level_sd_db": known(hold.level.sd_db)}
    lasted = judge_hiss(seconds, target_s=against.seconds or wanted.seconds, narrow=narrow)
    rise_db, fall_db = _shape(wanted, analysis, hold, columns)
    heard = Measured(total_s=seconds, rise_db=rise_db, fall_db=fall_db)
    return columns, Judgement((*lasted.parts, *judge_shape(heard, wanted.target.shape)))


def _shape(
    wanted: Wanted, analysis: Analysis, hold: Hold | None, columns: Columns
) -> tuple[float | None, float | None]:
    """The rise and the fall of the level where a shape is asked for; kept with the figures."""
    if wanted.target.shape is Shape.EVEN or hold is None or not analysis.quality.level_judged:
        return None, None
    found = level_shape(middle_of(analysis.frames[hold.frame_slice()]))
    if found is None:
        return None, None
    rise, fall = known(found.rise_db), known(found.fall_db)
    shape = {"rise_db": rise, "fall_db": fall, "peak_s": known(found.peak_s)}
    columns["figures"] = {**columns.get("figures", {}), **shape}
    return rise, fall


def _glide(wanted: Wanted, analysis: Analysis, against: Against) -> tuple[Columns, Judgement]:
    glide = glide_of(analysis.frames, over_breaths=True) if wanted.breath_inside else analysis.glide
    if glide is None:
        return {}, judge_glide(None, wanted.glide)
    columns = {
        "total_s": round(glide.end_s - glide.start_s, 3),
        "breaks": _from_start(glide),
        "figures": {
            "semitones": round(glide.span_semitones, 1),
            "low_hz": round(glide.low_hz, 2),
            "high_hz": round(glide.high_hz, 2),
            "direction": glide.direction.value,
            "cycles": glide.cycles,
            "jumps": [
                {"hz": round(jump.hz, 1), "semitones": round(jump.semitones, 1)}
                for jump in glide.jumps
            ],
        },
    }
    heard = GlideMeasured(
        glide.span_semitones,
        len(glide.breaks),
        len(glide.jumps),
        up_st=sum(each.semitones for each in glide.segments if each.kind is Movement.UP),
        down_st=-sum(each.semitones for each in glide.segments if each.kind is Movement.DOWN),
    )
    judgement = judge_glide(heard, wanted.glide)
    level = _glide_level(wanted, analysis, against, columns)
    return columns, Judgement((*judgement.parts, *level))


def _glide_level(
    wanted: Wanted, analysis: Analysis, against: Against, columns: Columns
) -> tuple[PartJudgement, ...]:
    """A glide's level against its floor or ceiling, where it has one; kept either way."""
    hold = analysis.longest
    if hold is not None and analysis.quality.level_judged:
        columns["level_mean_dbfs"] = mean = known(hold.level.mean_dbfs)
        if mean is not None and against.reference_dbfs is not None:
            columns["level_db"] = round(mean - against.reference_dbfs, 2)
    floor, ceiling = wanted.target.floor_db, wanted.target.ceiling_db
    if floor is None and ceiling is None:
        return ()
    judged = Measured(
        total_s=columns["total_s"],
        level_db=columns.get("level_db"),
        no_level=_no_level(analysis, against),
    )
    return (judge_level(judged, floor, ceiling),)


def _pattern(wanted: Wanted, analysis: Analysis, against: Against) -> tuple[Columns, Judgement]:
    asked_hz = wanted.pattern_hz
    if not asked_hz:  # any notes that are easy: that something was sung is all there is to say
        hold = analysis.longest
        lasted: Columns = {"total_s": round(hold.duration_s, 3)} if hold else {}
        return lasted, Judgement((PartJudgement(Part.PITCH, Verdict.NOT_JUDGED, Why.NO_PITCH),))
    notes = follow(analysis.frames, asked_hz)
    heard = [note for note in notes if isfinite(note.error_cents)]
    if not heard:
        return {}, Judgement((PartJudgement(Part.PITCH, Verdict.NOT_JUDGED, Why.NO_VOICE),))
    right = sum(note.on_pitch for note in notes)
    met = right >= ON_PITCH_SHARE * len(notes)
    columns: Columns = {
        "total_s": round(heard[-1].end_s - heard[0].start_s, 3),
        "share_on_pitch": round(right / len(notes), 3),
        "error_cents": round(float(np.median([note.error_cents for note in heard])), 1),
        "figures": {
            "notes_asked": len(notes),
            "notes_on_pitch": right,
            "errors_cents": [known(note.error_cents) for note in notes],
        },
    }
    why = Why.ON_NOTE if met else Why.WANDERED
    verdict = Verdict.MET if met else Verdict.NOT_MET
    return columns, Judgement((PartJudgement(Part.PITCH, verdict, why),))


def _compound(wanted: Wanted, analysis: Analysis, against: Against) -> tuple[Columns, Judgement]:
    pair = analysis.s_to_z
    if pair is None:
        return {}, judge_join(None, longest_gap_s=wanted.longest_gap_s)
    columns = {
        "total_s": round(pair.z_end_s - pair.s_start_s, 3),
        "figures": {
            "s_s": round(pair.s_duration_s, 2),
            "z_s": round(pair.z_duration_s, 2),
            "gap_s": round(pair.gap_s, 3),
        },
    }
    return columns, judge_join(pair.gap_s, longest_gap_s=wanted.longest_gap_s)


def _script(wanted: Wanted, analysis: Analysis, against: Against) -> tuple[Columns, Judgement]:
    speech = analysis.speech
    if speech is None:
        return {}, Judgement((PartJudgement(Part.SECONDS, Verdict.NOT_JUDGED, Why.NO_VOICE),))
    level = speech.level_median_dbfs if analysis.quality.level_judged else None
    columns: Columns = {
        "total_s": round(speech.voiced_s, 3),
        "median_hz": known(speech.f0_median_hz),
        "level_mean_dbfs": known(level) if level is not None else None,
        "figures": {
            "voiced_s": round(speech.voiced_s, 2),
            "pauses": len(speech.pauses),
            "breaths_per_min": known(speech.breaths_per_min),
            "range_st": known(speech.f0_range_semitones),
        },
    }
    if wanted.target.floor_db is None and wanted.target.ceiling_db is None:
        return columns, Judgement(())
    if level is not None and against.reference_dbfs is not None:
        columns["level_db"] = round(level - against.reference_dbfs, 2)
    judged = Measured(
        total_s=columns["total_s"],
        level_db=columns.get("level_db"),
        no_level=_no_level(analysis, against),
    )
    whole = judge(judged, _target(wanted, 0.5))
    return columns, Judgement(tuple(each for each in whole.parts if each.part is Part.LEVEL))


def _pulses(wanted: Wanted, analysis: Analysis, against: Against) -> tuple[Columns, Judgement]:
    return bursts.pulses(analysis, wanted.pulses)


def _bursts(wanted: Wanted, analysis: Analysis, against: Against) -> tuple[Columns, Judgement]:
    return bursts.bursts_then_long(analysis)


def _air(wanted: Wanted, analysis: Analysis, against: Against) -> tuple[Columns, Judgement]:
    return bursts.air_then_voice(analysis)


def _on_the_beat(wanted: Wanted, analysis: Analysis, against: Against) -> tuple[Columns, Judgement]:
    """A start on its beat, where the device says when that was."""
    hold = analysis.longest
    if hold is None:
        return {}, Judgement((PartJudgement(Part.START, Verdict.NOT_JUDGED, Why.NO_VOICE),))
    lasted: Columns = {"total_s": round(hold.duration_s, 3)}
    return lasted, Judgement((PartJudgement(Part.START, Verdict.NOT_JUDGED, Why.NO_BEAT),))


_KINDS: dict[str, Callable[[Wanted, Analysis, Against], tuple[Columns, Judgement]]] = {
    "hold": _hold,
    "hiss": _hiss,
    "glide": _glide,
    "pattern": _pattern,
    "compound": _compound,
    "script": _script,
    "pulses": _pulses,
    "bursts_then_long": _bursts,
    "air_then_voice": _air,
    "on_the_beat": _on_the_beat,
}


def _target(wanted: Wanted, seconds: float | None) -> HoldTarget:
    return replace(wanted.target, seconds=seconds) if seconds else wanted.target


def _trace(kind: str, analysis: Analysis) -> bytes | None:
    hold = analysis.longest
    if kind == "script" and len(analysis.frames):
        return pack_trace(trace_of(analysis.frames.pitch_hz, smoothed_dbfs(analysis.frames)))
    if hold is None:
        return None
    held = analysis.frames[hold.frame_slice()]
    return pack_trace(trace_of(held.pitch_hz, smoothed_dbfs(held)))


def _figures(analysis: Analysis, hold: Hold | None) -> Columns:
    """A hold's figures as columns."""
    if hold is None:
        return {}
    quality = analysis.quality
    level = hold.level if quality.level_judged else None
    return {
        "total_s": round(hold.duration_s, 3),
        "steady_s": round(hold.steady_s, 3) if quality.steady_judged else None,
        "median_hz": known(hold.pitch.median_hz),
        "error_cents": known(hold.target_error_cents),
        "end_error_cents": known(hold.end_error_cents),
        "share_on_pitch": known(hold.on_pitch_share),
        "spread_cents": known(hold.pitch.spread_cents) if quality.spread_judged else None,
        "drift_cents": known(hold.pitch.drift_cents),
        "level_mean_dbfs": known(level.mean_dbfs) if level else None,
        "level_slope_db_per_s": known(level.slope_db_per_s) if level else None,
        "breaks": _from_start(hold),
        "figures": _evenness(hold, analysis),
    }


def _evenness(hold: Hold, analysis: Analysis) -> Columns:
    """What else a clinician reads of a hold; None where the recording does not bear it."""
    quality = analysis.quality
    level = hold.level if quality.level_judged else None
    tremor = hold.tremor if quality.spread_judged else None
    return {
        "level_sd_db": known(level.sd_db) if level else None,
        "end_fall_db": known(level.end_fall_db) if level else None,
        "voiced_share": known(hold.voiced_fraction),
        "onset_rise_ms": known(hold.onset_rise_ms),
        "cpps_db": known(hold.cpps_db) if quality.spread_judged else None,
        "tremor_hz": known(tremor.rate_hz) if tremor else None,
        "tremor_cents": known(tremor.extent_cents) if tremor else None,
    }


def _from_start(hold: Hold | Glide) -> list[dict[str, float]]:
    """The breaks in seconds after the start, as every picture of it needs them."""
    return [
        {
            "start_s": round(gap.start_s - hold.start_s, 3),
            "end_s": round(gap.end_s - hold.start_s, 3),
        }
        for gap in hold.breaks
    ]


def known(value: float) -> float | None:
    """None for NaN: a database's NaN would sort and average as if it were a number."""
    return round(value, 4) if isfinite(value) else None
