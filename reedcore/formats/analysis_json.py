"""A measured recording as plain values for JSON; null if not applicable or not judged."""

from __future__ import annotations

from math import isfinite
from typing import Any

from reedcore.acoustics import Analysis, Hold, Quality
from reedcore.acoustics.moves.glide import Glide
from reedcore.acoustics.moves.join import SToZ
from reedcore.acoustics.moves.speech import Speech

Values = dict[str, Any]


def analysis_values(analysis: Analysis, *, file: str) -> Values:
    """Return the whole of one recording, ready for :func:`json.dumps`."""
    return {
        "file": file,
        "sample_rate_hz": analysis.sample_rate_hz,
        "duration_s": round_if_known(analysis.duration_s, 4),
        "quality": _quality(analysis.quality),
        "holds": [_hold(hold, analysis.quality) for hold in analysis.holds],
        "glide": _glide(analysis.glide) if analysis.glide else None,
        "s_to_z": _s_to_z(analysis.s_to_z) if analysis.s_to_z else None,
        "speech": _speech(analysis.speech, analysis.quality)
        if analysis.speech and not analysis.speech.doubt
        else None,
    }


def round_if_known(value: float, places: int = 3) -> float | None:
    """Return a rounded figure, or None for "not measured"."""
    return round(value, places) if isfinite(value) else None


def _quality(quality: Quality) -> Values:
    return {
        "usable": quality.is_usable,
        "reasons": [reason.value for reason in quality.reasons],
        "clipped_fraction": round_if_known(quality.clipped_fraction, 6),
        "noise_floor_dbfs": round_if_known(quality.noise_floor_dbfs, 2),
        "snr_db": round_if_known(quality.snr_db, 2),
    }


def _hold(hold: Hold, quality: Quality) -> Values:
    level = hold.level if quality.level_judged else None
    tremor = hold.tremor if quality.voice_judged else None
    return {
        "kind": hold.kind.value,
        "start_s": round_if_known(hold.start_s),
        "end_s": round_if_known(hold.end_s),
        "duration_s": round_if_known(hold.duration_s),
        "f0_median_hz": round_if_known(hold.pitch.median_hz),
        "f0_sd_cents": round_if_known(hold.pitch.spread_cents, 2)
        if quality.spread_judged
        else None,
        "drift_cents": round_if_known(hold.pitch.drift_cents, 2),
        "target_error_cents": round_if_known(hold.target_error_cents, 2),
        "level_mean_dbfs": round_if_known(level.mean_dbfs, 2) if level else None,
        "level_sd_db": round_if_known(level.sd_db) if level else None,
        "level_slope_db_per_s": round_if_known(level.slope_db_per_s, 4) if level else None,
        "breaks": [
            {"start_s": round_if_known(gap.start_s), "end_s": round_if_known(gap.end_s)}
            for gap in hold.breaks
        ],
        "voiced_fraction": round_if_known(hold.voiced_fraction, 4),
        "cpps_db": round_if_known(hold.cpps_db, 2) if quality.voice_judged else None,
        **sound_values(hold, is_judged=quality.voice_judged),
        "flutter": {
            "rate_hz": round_if_known(hold.flutter.rate_hz, 2),
            "depth_db": round_if_known(hold.flutter.depth_db, 2),
        }
        if hold.flutter
        else None,
        "tremor": {
            "rate_hz": round_if_known(tremor.rate_hz, 2),
            "extent_cents": round_if_known(tremor.extent_cents, 1),
            "extent_db": round_if_known(tremor.extent_db, 2),
        }
        if tremor
        else None,
        "onset_rise_ms": round_if_known(hold.onset_rise_ms, 1),
        "steady_s": round_if_known(hold.steady_s) if quality.steady_judged else None,
        "end_uncertainty_s": round_if_known(hold.end_uncertainty_s),
        "level_end_fall_db": round_if_known(level.end_fall_db, 2) if level else None,
        "on_pitch": hold.on_pitch,
    }


def _glide(glide: Glide) -> Values:
    return {
        "low_hz": round_if_known(glide.low_hz, 2),
        "high_hz": round_if_known(glide.high_hz, 2),
        "span_semitones": round_if_known(glide.span_semitones, 2),
        "direction": glide.direction.value,
        "cycles": glide.cycles,
        "rise_semitones": round_if_known(glide.rise_st, 2),
        "fall_semitones": round_if_known(glide.fall_st, 2),
        "breaks": [
            {"start_s": round_if_known(gap.start_s), "end_s": round_if_known(gap.end_s)}
            for gap in glide.breaks
        ],
        "segments": [
            {
                "kind": segment.kind.value,
                "start_s": round_if_known(segment.start_s),
                "end_s": round_if_known(segment.end_s),
                "from_hz": round_if_known(segment.from_hz, 2),
                "to_hz": round_if_known(segment.to_hz, 2),
                "semitones": round_if_known(segment.semitones, 2),
                "semitones_per_s": round_if_known(segment.semitones_per_s, 2),
            }
            for segment in glide.segments
        ],
        "jumps": [
            {
                "at_s": round_if_known(jump.at_s),
                "hz": round_if_known(jump.hz, 2),
                "semitones": round_if_known(abs(jump.semitones), 2),
                "direction": "up" if jump.semitones > 0 else "down",
            }
            for jump in glide.jumps
        ],
    }


def _s_to_z(pair: SToZ) -> Values:
    return {
        "s_duration_s": round_if_known(pair.s_duration_s),
        "z_duration_s": round_if_known(pair.z_duration_s),
        "gap_s": round_if_known(pair.gap_s),
        "z_start_s": round_if_known(pair.z_start_s),
        "z_f0_median_hz": round_if_known(pair.z_hz, 2),
        "z_onset_rise_ms": round_if_known(pair.z_onset_rise_ms, 1),
    }


def sound_values(hold: Hold, *, is_judged: bool) -> Values:
    """Return voice quality figures. No rule uses them."""
    periods, spectrum = hold.perturbation, hold.spectrum
    figures = {
        "jitter_percent": periods.jitter_percent,
        "shimmer_percent": periods.shimmer_percent,
        "hnr_db": periods.hnr_db,
        "ltas_slope_db": spectrum.slope_db,
        "ltas_tilt_db_per_octave": spectrum.tilt_db_per_octave,
        "alpha_ratio_db": spectrum.alpha_db,
    }
    return {name: round_if_known(value) if is_judged else None for name, value in figures.items()}


def _speech(speech: Speech, quality: Quality) -> Values:
    judged = quality.level_judged
    return {
        "voiced_s": round_if_known(speech.voiced_s),
        "pauses": [
            {"start_s": round_if_known(pause.start_s), "end_s": round_if_known(pause.end_s)}
            for pause in speech.pauses
        ],
        "groups": [
            {
                "start_s": round_if_known(group.start_s),
                "end_s": round_if_known(group.end_s),
                "level_fall_db": round_if_known(group.level_fall_db, 2) if judged else None,
            }
            for group in speech.groups
        ],
        "has_clear_pauses": speech.has_clear_pauses,
        "breaths_per_min": round_if_known(speech.breaths_per_min, 2)
        if speech.has_clear_pauses
        else None,
        "phonation_ratio": round_if_known(speech.phonation_ratio)
        if speech.has_clear_pauses
        else None,
        "syllables_per_s": round_if_known(speech.syllables_per_s, 2)
        if speech.has_clear_pauses
        else None,
        "cpps_db": round_if_known(speech.cpps_db, 2),
        "f0_median_hz": round_if_known(speech.f0_median_hz, 2),
        "f0_range_semitones": round_if_known(speech.f0_range_semitones, 2),
        "level_median_dbfs": round_if_known(speech.level_median_dbfs, 2) if judged else None,
        "level_range_db": round_if_known(speech.level_range_db, 2) if judged else None,
    }
