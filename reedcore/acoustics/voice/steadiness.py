"""Steadiness of a held pitch: error against a note, spread, drift, steady seconds."""

from __future__ import annotations

from dataclasses import dataclass
from heapq import heappop, heappush, heappushpop
from math import nan

import numpy as np

from ..settings import EDGE_TRIM_S, HOP_S
from ..track.frames import Array, Frames
from .levels import smoothed_dbfs

#: Drift needs distinct first and last seconds.
DRIFT_NEEDS_S = 2.5
#: Steady seconds end where a running median of this length leaves the limit for as long
#: (definition).
STEADY_WINDOW_S = 0.3
STEADY_CENTS, STEADY_DB = 50.0, 3.0


@dataclass(frozen=True, slots=True)
class PitchFigures:
    """Pitch over the middle of a hold. NaN if it could not be measured.

    Attributes:
        median_hz: of the periodic frames.
        spread_cents: SD (n−1), neither smoothed nor detrended.
        drift_cents: median of the last second less median of the first.
    """

    median_hz: float
    spread_cents: float
    drift_cents: float


def middle_of(frames: Frames) -> Frames:
    """Return a hold without the quarter of a second at each end; all of it when it is too short."""
    trim = round(EDGE_TRIM_S / HOP_S)
    return frames[trim : len(frames) - trim] if len(frames) > 2 * trim else frames


def pitch_figures(hold: Frames) -> PitchFigures:
    """Return the pitch measures of one hold's frames."""
    middle = middle_of(hold)
    voiced_hz = middle.pitch_hz[middle.periodic]
    if not voiced_hz.size:
        return PitchFigures(nan, nan, nan)
    median = float(np.median(voiced_hz))
    cents = 1200.0 * np.log2(voiced_hz / median)
    spread = float(np.std(cents, ddof=1)) if cents.size > 1 else nan
    return PitchFigures(median, spread, _drift(hold, middle))


def _drift(hold: Frames, middle: Frames) -> float:
    second = round(1.0 / HOP_S)
    if len(hold) * HOP_S < DRIFT_NEEDS_S:
        return nan
    first, last = (part[~np.isnan(part)] for part in _start_and_end(middle.pitch_hz, second))
    if not (first.size and last.size):
        return nan
    return float(1200.0 * np.log2(np.median(last) / np.median(first)))


def _start_and_end(values: Array, count: int) -> tuple[Array, Array]:
    return values[:count], values[-count:]


def on_pitch_share(hold: Frames, *, target_hz: float, window_cents: float) -> float:
    """Return the share of the middle's periodic frames within ±``window_cents`` of the note; NaN if
    none."""
    middle = middle_of(hold)
    voiced_hz = middle.pitch_hz[middle.periodic]
    if not voiced_hz.size:
        return nan
    return float(np.mean(np.abs(1200.0 * np.log2(voiced_hz / target_hz)) <= window_cents))


def steady_seconds(hold: Frames, *, is_pitched: bool = True) -> float:
    """Return the time from 0.25 s after the start until pitch or level first strays for 0.3 s.

    Strays: the running median over 0.3 s leaves ±50 cents or ±3 dB of its own median up to there,
    for what comes later takes nothing from what was steady. A hold that never strays is steady to
    its end. Of a hiss (not ``pitched``) the level decides.
    """
    trim = round(EDGE_TRIM_S / HOP_S)
    if len(hold) <= trim:
        return 0.0
    after_onset = hold[trim:]
    strayed = _strays(smoothed_dbfs(hold)[trim:], STEADY_DB)
    if is_pitched:
        strayed |= _strays(_cents(after_onset.pitch_hz), STEADY_CENTS)
    long_enough = round(STEADY_WINDOW_S / HOP_S)
    if strayed.size >= long_enough:
        runs = np.lib.stride_tricks.sliding_window_view(strayed, long_enough).all(axis=1)
        if runs.any():
            return float(np.argmax(runs)) * HOP_S
    return len(after_onset) * HOP_S


def _cents(pitch_hz: Array) -> Array:
    return 1200.0 * np.log2(pitch_hz / 440.0)


def _strays(values: Array, limit: float) -> np.ndarray:
    """Return where the running median is further than ``limit`` from its own median up to there, as
    far as the first time that it has been so for :data:`STEADY_WINDOW_S`."""
    running = _running_median(values)
    known = np.flatnonzero(np.isfinite(running))
    strayed = np.zeros(values.size, dtype=bool)
    # A pitch that never moves this much cannot leave the limit.
    if not known.size or np.ptp(running[known]) <= limit:
        return strayed
    # The lower half so far, negated, and the upper: the median lies between their tops.
    under: list[float] = []
    over: list[float] = []
    away = 0
    for at in known.tolist():
        value = float(running[at])
        heappush(over, -heappushpop(under, -value))
        if len(over) > len(under):
            heappush(under, -heappop(over))
        median = -under[0] if len(under) > len(over) else 0.5 * (over[0] - under[0])
        strayed[at] = abs(value - median) > limit
        away = (away if at and strayed[at - 1] else 0) + 1 if strayed[at] else 0
        if away >= round(STEADY_WINDOW_S / HOP_S):  # It ended there, whatever follows.
            break
    return strayed


def _running_median(values: Array) -> Array:
    """Return the median over :data:`STEADY_WINDOW_S` around each value, of the known ones; NaN if
    there is none."""
    width = round(STEADY_WINDOW_S / HOP_S)
    padded = np.pad(values, (width // 2, width - 1 - width // 2), constant_values=np.nan)
    windows = np.sort(np.lib.stride_tricks.sliding_window_view(padded, width), axis=1)
    # NaN sorts last, so the median of the known values is in the middle of the leading part.
    count = np.count_nonzero(np.isfinite(windows), axis=1)
    rows = np.arange(len(windows))
    low, high = np.maximum((count - 1) // 2, 0), count // 2
    middle = 0.5 * (windows[rows, low] + windows[rows, np.minimum(high, width - 1)])
    return np.where(count > 0, middle, np.nan)
