"""Samples of one try → its figures, its trace and how it did, by the kind of measure.

The core measures and judges; here its values become columns. What a recording does not bear is left
unknown.
"""

from dataclasses import dataclass
from math import isfinite

import numpy as np

from reedcore.acoustics import Analysis, Hold, QualityReason, Task, analyse
from reedcore.acoustics.following import follow
from reedcore.acoustics.levels import smoothed_dbfs
from reedcore.formats.trace import pack_trace, trace_of
from reedcore.targets import Judgement, Measured, Part, PartJudgement, Verdict, judge
from reedcore.targets.judging import ON_PITCH_SHARE, Why
from reedcore.targets.movements import GlideMeasured, judge_glide, judge_hiss, judge_join
from web.programmes.queries import note_hz, target_of

from .asked import Asked

#: What each kind of measure is listened for. The others are told by the client, not heard.
HEARD = {
    "hold": Task.HOLD,
    "hiss": Task.HISS,
    "compound": Task.S_TO_Z,
    "glide": Task.GLIDE,
    "pattern": Task.GLIDE,
    "script": Task.SPEECH,
}


@dataclass(frozen=True)
class Heard:
    """One try, measured: columns of the trial, its packed trace, and the judgement."""

    columns: dict
    trace: bytes | None
    judgement: Judgement


@dataclass(frozen=True)
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


def measured(asked: Asked, samples: np.ndarray, rate_hz: int, against: Against) -> Heard:
    """Measures a take of a task.

    Raises:
        reedcore.errors.Refusal: the sound cannot be measured.
    """
    kind = asked.task.measure
    analysis = analyse(
        samples,
        rate_hz,
        task=HEARD[kind],
        target_hz=note_hz(asked.task),
        processed=against.processed,
    )
    columns, judgement = _KINDS[kind](asked, analysis, against)
    quality = analysis.quality
    columns |= {
        "recording_s": analysis.duration_s,
        "sample_rate_hz": rate_hz,
        "noise_floor_dbfs": known(quality.noise_floor_dbfs),
        "snr_db": known(quality.snr_db),
        "clipped_fraction": quality.clipped_fraction,
        "reasons": [reason.value for reason in quality.reasons],
    }
    return Heard(columns, _trace(kind, analysis), judgement)


def _hold(asked, analysis, against):
    hold = analysis.longest
    columns = _figures(analysis, hold)
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
    )
    return columns, judge(judged, target_of(asked.task, seconds=against.seconds))


def _no_level(analysis, against):
    if against.processed:
        return Why.SOUND_CHANGED
    if not analysis.quality.level_judged:
        return Why.ROOM_TOO_LOUD
    return Why.NO_REFERENCE


def _hiss(asked, analysis, against):
    hold = analysis.longest
    seconds = round(hold.duration_s, 3) if hold else None
    narrow = QualityReason.NARROW_BAND in analysis.quality.reasons and hold is None
    columns = {"total_s": seconds}
    if hold and analysis.quality.level_judged:
        columns["figures"] = {"level_sd_db": known(hold.level.sd_db)}
    return columns, judge_hiss(seconds, target_s=against.seconds or asked.seconds, narrow=narrow)


def _glide(asked, analysis, against):
    glide = analysis.glide
    if glide is None:
        return {}, judge_glide(None, asked.glide)
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
    heard = GlideMeasured(glide.span_semitones, len(glide.breaks), len(glide.jumps))
    return columns, judge_glide(heard, asked.glide)


def _pattern(asked, analysis, against):
    wanted = asked.pattern_hz
    if not wanted:  # pulses on a hiss and the like: a rhythm without notes
        hold = analysis.longest
        columns = {"total_s": round(hold.duration_s, 3)} if hold else {}
        return columns, Judgement((PartJudgement(Part.PITCH, Verdict.NOT_JUDGED, Why.NO_PITCH),))
    notes = follow(analysis.frames, wanted)
    heard = [note for note in notes if isfinite(note.error_cents)]
    if not heard:
        return {}, Judgement((PartJudgement(Part.PITCH, Verdict.NOT_JUDGED, Why.NO_VOICE),))
    right = sum(note.on_pitch for note in notes)
    met = right >= ON_PITCH_SHARE * len(notes)
    columns = {
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


def _compound(asked, analysis, against):
    pair = analysis.s_to_z
    if pair is None:
        return {}, judge_join(None, longest_gap_s=asked.longest_gap_s)
    columns = {
        "total_s": round(pair.z_end_s - pair.s_start_s, 3),
        "figures": {
            "s_s": round(pair.s_duration_s, 2),
            "z_s": round(pair.z_duration_s, 2),
            "gap_s": round(pair.gap_s, 3),
        },
    }
    return columns, judge_join(pair.gap_s, longest_gap_s=asked.longest_gap_s)


def _script(asked, analysis, against):
    speech = analysis.speech
    if speech is None:
        return {}, Judgement((PartJudgement(Part.SECONDS, Verdict.NOT_JUDGED, Why.NO_VOICE),))
    level = speech.level_median_dbfs if analysis.quality.level_judged else None
    columns = {
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
    floor, ceiling = asked.item.get("floor"), asked.item.get("ceiling")
    if floor is None and ceiling is None:
        return columns, Judgement(())
    if level is not None and against.reference_dbfs is not None:
        columns["level_db"] = round(level - against.reference_dbfs, 2)
    judged = Measured(
        total_s=columns["total_s"],
        level_db=columns.get("level_db"),
        no_level=_no_level(analysis, against),
    )
    whole = judge(judged, target_of(asked.task, seconds=0.5))
    return columns, Judgement(tuple(each for each in whole.parts if each.part is Part.LEVEL))


_KINDS = {
    "hold": _hold,
    "hiss": _hiss,
    "glide": _glide,
    "pattern": _pattern,
    "compound": _compound,
    "script": _script,
}


def _trace(kind: str, analysis: Analysis) -> bytes | None:
    hold = analysis.longest
    if kind == "script" and len(analysis.frames):
        return pack_trace(trace_of(analysis.frames.pitch_hz, smoothed_dbfs(analysis.frames)))
    if hold is None:
        return None
    held = analysis.frames[hold.frame_slice()]
    return pack_trace(trace_of(held.pitch_hz, smoothed_dbfs(held)))


def _figures(analysis: Analysis, hold: Hold | None) -> dict:
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
    }


def _from_start(hold) -> list[dict]:
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
