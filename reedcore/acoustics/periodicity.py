"""How periodic a stretch of sound is at each lag, and how much of it lies in which band.

The autocorrelation of a windowed frame divided by that of its window (Proc Inst Phonetic Sci Univ
Amsterdam 1993;17:97–110), taken through the power spectrum, so that one transform serves pitch and
band levels alike and the band that carries no voice is left out of the pitch.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import fft

from .settings import (
    FFT_SIZE,
    HIGHEST_PITCH_HZ,
    HISS_FROM_HZ,
    HOP,
    LOWEST_PITCH_HZ,
    TOP_FROM_HZ,
    WINDOW,
    WORKING_RATE_HZ,
)

Array = NDArray[np.float64]
Indices = NDArray[np.intp]

#: Candidates kept for a frame: the period, its double and a formant's rival fit among four.
CANDIDATES = 4
#: A correlation peak lower than this is no candidate for a pitch.
WEAKEST = 0.25
#: Preference for the shorter of two equal periods, per octave: else every period's double ties.
OCTAVE_COST = 0.06
#: Distrust of long lags: the window leaves so little of them that noise is raised with the peak.
LONG_LAG_COST = 0.015

#: A pitch is read off the last of its periods that lies within this, searched so far about it.
LATER_PERIODS_S, LATER_SEARCH = 0.012, 5
#: A later peak lower than this share of the first is not its own.
LATER_LEAST = 0.6
_LATER_LAG = LATER_PERIODS_S * WORKING_RATE_HZ
_AROUND = np.arange(-LATER_SEARCH, LATER_SEARCH + 1)

_SHORTEST_LAG = int(WORKING_RATE_HZ / HIGHEST_PITCH_HZ)
_LONGEST_LAG = int(np.ceil(WORKING_RATE_HZ / LOWEST_PITCH_HZ))
_BINS_HZ = np.fft.rfftfreq(FFT_SIZE, 1.0 / WORKING_RATE_HZ)


def _from(hz: float) -> int:
    """The first bin at or above a frequency."""
    return int(np.searchsorted(_BINS_HZ, hz))


_SOUND = slice(_from(45.0), None)
_HISS = slice(_from(HISS_FROM_HZ), None)
_TOP = slice(_from(TOP_FROM_HZ), None)
_TAPER = np.hanning(WINDOW + 1)[:-1].astype(np.float32)


def _pitch_band() -> Array:
    """Full weight to 2 kHz, none from 4 kHz, nothing under the lowest voice."""
    weight = 0.5 * (1.0 + np.cos(np.pi * np.clip((_BINS_HZ - 2000.0) / 2000.0, 0.0, 1.0)))
    weight[_BINS_HZ < 45.0] = 0.0
    return np.asarray(weight)


_PITCH_BAND = _pitch_band().astype(np.float32)


def _window_correlation() -> Array:
    """The taper's own autocorrelation, band-limited like the frames that are divided by it."""
    power = np.abs(np.fft.rfft(_TAPER.astype(np.float64), FFT_SIZE)) ** 2
    raw = np.fft.irfft(power, FFT_SIZE)[: _LONGEST_LAG + 2]
    return np.asarray(raw / raw[0])


_WINDOW_CORRELATION = _window_correlation().astype(np.float32)


def _lag_cost() -> Array:
    """What speaks against each lag as such, whatever its peak."""
    lags = np.arange(_SHORTEST_LAG, _LONGEST_LAG + 1)
    left = _WINDOW_CORRELATION[lags]
    cost = OCTAVE_COST * np.log2(lags / _SHORTEST_LAG) + LONG_LAG_COST * (1.0 / left - 1.0)
    return np.asarray(cost)


_LAG_COST = _lag_cost()


@dataclass(frozen=True, slots=True, eq=False)
class Spectra:
    """For n frames: pitch candidates, best first, and the share of each band.

    Attributes:
        candidate_hz: ``(n, 4)``, NaN where there are fewer.
        candidate_strength: ``(n, 4)``, height of the peak, 0–1.
        candidate_worth: the same less what speaks against the lag as such.
        hiss_share, top_share: share of the energy above 2 and above 4 kHz.
    """

    candidate_hz: Array
    candidate_strength: Array
    candidate_worth: Array
    hiss_share: Array
    top_share: Array


def spectra_of(samples: NDArray[np.float32], count: int) -> Spectra:
    """What ``count`` frames hold; frame k is ``samples[k·160 : k·160 + 800]`` at 16 kHz."""
    # overlapping rows of one buffer, without the checks that a short live round cannot afford
    step = samples.itemsize
    frames = np.ndarray((count, WINDOW), samples.dtype, samples, strides=(HOP * step, step))
    bins = fft.rfft(frames * _TAPER, FFT_SIZE, axis=1)
    power = bins.real**2 + bins.imag**2
    correlation = fft.irfft(power * _PITCH_BAND, FFT_SIZE, axis=1)[:, : _LONGEST_LAG + 2]
    zero_lag = correlation[:, :1]
    with np.errstate(divide="ignore", invalid="ignore"):  # silence, and peaks that are none
        normal = np.where(zero_lag > 0, correlation / zero_lag / _WINDOW_CORRELATION, 0.0)
        hz, strength, worth = _candidates(normal)
    total = power[:, _SOUND].sum(axis=1)
    safe_total = np.where(total > 0, total, 1.0)
    return Spectra(
        candidate_hz=hz,
        candidate_strength=strength,
        candidate_worth=worth,
        hiss_share=power[:, _HISS].sum(axis=1) / safe_total,
        top_share=power[:, _TOP].sum(axis=1) / safe_total,
    )


def _candidates(normal: Array) -> tuple[Array, Array, Array]:
    """The highest local maxima of each row, placed between lags by a parabola."""
    middle = normal[:, _SHORTEST_LAG : _LONGEST_LAG + 1]
    peak = middle > normal[:, _SHORTEST_LAG - 1 : _LONGEST_LAG]
    peak &= middle >= normal[:, _SHORTEST_LAG + 1 : _LONGEST_LAG + 2]
    peak &= middle > WEAKEST
    rows, columns = np.nonzero(peak)
    rows, columns, ranks = _best_of_each_row(rows, columns, middle)
    values = normal.reshape(-1)
    at = columns + _SHORTEST_LAG
    flat = rows * normal.shape[1] + at
    low, mid, high = values[flat - 1], values[flat], values[flat + 1]
    shift = 0.5 * (low - high) / (low - 2.0 * mid + high)
    height = np.maximum(mid - 0.25 * (low - high) * shift, 0.0)
    # a window that the sound fills only in part makes peaks higher than 1: as far off as lower ones
    height = np.where(height > 1.0, 1.0 / np.maximum(height, 1.0), height)
    lag = _placed_by_later_periods(normal, rows, np.add(at, shift, dtype=np.float64), height)
    found = np.zeros((3, len(normal), CANDIDATES))
    found[0] = np.nan
    found[:, rows, ranks] = WORKING_RATE_HZ / lag, height, height - _LAG_COST[columns]
    return found[0], found[1], found[2]


def _best_of_each_row(rows: Indices, columns: Indices, middle: Array) -> tuple[Indices, ...]:
    """The peaks worth keeping, best first in each row, and which place each takes there."""
    score = _LAG_COST[columns] - np.minimum(middle[rows, columns], 1.0)
    order = np.lexsort((score, rows))
    rows, columns = rows[order], columns[order]
    ranks = np.arange(rows.size) - np.searchsorted(rows, rows)
    kept = ranks < CANDIDATES
    return rows[kept], columns[kept], ranks[kept]


def _placed_by_later_periods(normal: Array, rows: Indices, lag: Array, strength: Array) -> Array:
    """Each candidate's lag, read off its highest multiple within 12 ms.

    An error of a sample is shared by that many periods; and breath that a resonance has coloured
    repeats itself once but not three times, so it no longer pulls the peak towards the resonance.
    """
    width = normal.shape[1]
    periods = np.maximum(1.0, np.floor(_LATER_LAG / lag))
    middle = np.rint(periods * lag).astype(np.intp)
    places = np.minimum(middle[:, None] + _AROUND, width - 1) + (rows * width)[:, None]
    near = normal.reshape(-1)[places]
    best = np.argmax(near, axis=1)
    inside = (best > 0) & (best < _AROUND.size - 1) & (periods > 1.0)
    at = np.minimum(np.maximum(best, 1), _AROUND.size - 2)
    which = np.arange(lag.size)
    low, mid, high = near[which, at - 1], near[which, at], near[which, at + 1]
    shift = 0.5 * (low - high) / (low - 2.0 * mid + high)
    good = inside & (mid > LATER_LEAST * strength) & (np.abs(shift) <= 1.0)
    return np.where(good, (middle + _AROUND[at] + shift) / periods, lag)
