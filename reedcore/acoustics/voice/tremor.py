"""Tremor: a waver of 3–12 Hz in pitch or level over a hold's middle."""

from __future__ import annotations

from dataclasses import dataclass
from math import isfinite, nan

import numpy as np

from ..runs import Mask
from ..settings import BREAK_DEPTH_DB, HOP_S
from ..track.frames import Array, Frames

NEEDS_S = 2.0
RATE_HZ = (3.0, 12.0)
AMONG_HZ = (1.0, 20.0)
WITHIN_HZ = 1.0
#: Minimum share of the movement within ±1 Hz of the peak.
GATHERED = 0.30
#: Smaller movements are normal; half peak to peak.
LEAST_CENTS, LEAST_DB = 8.0, 0.5


@dataclass(frozen=True, slots=True)
class Tremor:
    """Rate in Hz; extents half peak to peak, NaN where that track could not be read."""

    rate_hz: float
    extent_cents: float
    extent_db: float


def tremor_of(middle: Frames) -> Tremor | None:
    """Return the tremor of a hold's middle; None if it is too short or there is none."""
    if len(middle) * HOP_S < NEEDS_S or np.mean(middle.periodic) < 0.5:
        return None
    level = np.maximum(middle.voice_band_dbfs, -120.0)
    # Leave out breaks, with the frames that they affect on both sides.
    broken = level < np.median(level) - BREAK_DEPTH_DB
    sound = ~np.convolve(broken, np.ones(7), mode="same").astype(bool)
    cents = _without_trend(1200.0 * np.log2(middle.pitch_hz), sound)
    level = _without_trend(level, sound)
    for track, least in ((cents, LEAST_CENTS), (level, LEAST_DB)):
        rate = _rate(track)
        if isfinite(rate) and _extent(track, rate) >= least:
            return Tremor(rate, _extent(cents, rate), _extent(level, rate))
    return None


def _without_trend(track: Array, sound: Mask) -> Array:
    """Return the track with gaps bridged and its trend removed."""
    at = np.arange(track.size)
    known = np.isfinite(track) & sound
    if not known.any():
        return np.zeros(track.size)
    return _detrend(np.interp(at, at[known], track[known]))


def _detrend(track: Array) -> Array:
    """Return the track less the straight line fitted to it by least squares."""
    line = np.ones((track.size, 2))
    line[:, 0] = np.arange(1, track.size + 1) / track.size
    fit = np.linalg.lstsq(line, track, rcond=None)[0]
    return np.asarray(track - line @ fit)


def _spectrum(track: Array) -> tuple[Array, Array]:
    """Return frequencies, and the mean square at each."""
    window = np.hanning(track.size)
    size = 4 * track.size  # Interpolated, to place the peak.
    power = np.abs(np.fft.rfft(track * window, size)) ** 2
    hz: Array = np.fft.rfftfreq(size, HOP_S).astype(np.float64)
    return hz, 2.0 * power / size / np.sum(window**2)


def _rate(track: Array) -> float:
    hz, power = _spectrum(track)
    among = (hz >= AMONG_HZ[0]) & (hz <= AMONG_HZ[1])
    sought = (hz >= RATE_HZ[0]) & (hz <= RATE_HZ[1])
    total = power[among].sum()
    if total <= 0:
        return nan
    rate = float(hz[sought][np.argmax(power[sought])])
    near = np.abs(hz - rate) <= WITHIN_HZ
    return rate if power[near & among].sum() >= GATHERED * total else nan


def _extent(track: Array, rate_hz: float) -> float:
    hz, power = _spectrum(track)
    return float(np.sqrt(2.0 * power[np.abs(hz - rate_hz) <= WITHIN_HZ].sum()))
