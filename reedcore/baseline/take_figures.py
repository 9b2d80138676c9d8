"""The figures of one take at a step of the sheet."""

from __future__ import annotations

from math import isfinite
from typing import TYPE_CHECKING

from .steps import BaselineStep, Capture

if TYPE_CHECKING:  # Import for the type only: the analysis module is large.
    from reedcore.acoustics import Analysis


def take_figures(analysis: Analysis, step: BaselineStep) -> dict[str, float]:
    """Return the measured figures of one take by name with their unit."""
    found = {
        Capture.HOLD: _hold,
        Capture.HISS: _hiss,
        Capture.GLIDE: _glide,
        Capture.SPEECH: _speech,
    }[step.capture](analysis)
    return {name: round(value, 3) for name, value in found.items() if isfinite(value)}


def _hold(analysis: Analysis) -> dict[str, float]:
    hold = analysis.longest
    if hold is None:
        return {}
    quality = analysis.quality
    figures = {
        "total_s": hold.duration_s,
        "median_hz": hold.pitch.median_hz,
        "breaks": float(len(hold.breaks)),
    }
    if quality.steady_judged:
        figures["steady_s"] = hold.steady_s
    if quality.spread_judged:
        figures["spread_cents"] = hold.pitch.spread_cents
    if quality.level_judged:
        figures["level_dbfs"] = hold.level.mean_dbfs
    return figures


def _hiss(analysis: Analysis) -> dict[str, float]:
    hold = analysis.longest
    return {} if hold is None else {"total_s": hold.duration_s}


def _glide(analysis: Analysis) -> dict[str, float]:
    glide = analysis.glide
    if glide is None:
        return {}
    return {
        "low_hz": glide.low_hz,
        "high_hz": glide.high_hz,
        "jumps": float(len(glide.jumps)),
        "breaks": float(len(glide.breaks)),
    }


def _speech(analysis: Analysis) -> dict[str, float]:
    speech = analysis.speech
    if speech is None or speech.doubt:
        return {}
    figures = {
        "median_hz": speech.f0_median_hz,
        "range_st": speech.f0_range_semitones,
        "voiced_s": speech.voiced_s,
    }
    if speech.has_clear_pauses:
        figures["breaths_per_min"] = speech.breaths_per_min
    if analysis.quality.level_judged:
        figures["level_dbfs"] = speech.level_median_dbfs
    return figures
