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

#: Wide enough that a voice that only wavers stays in its own, narrow enough for the mouth to show.
BAND_EDGES_HZ = (80.0, 400.0, 700.0, 1100.0, 1700.0, 2600.0, 4000.0, 8000.0)
#: Candidates kept for a frame: the period, its double and a formant's rival fit among four.
CANDIDATES = 4
#: A correlation peak lower than this is no candidate for a pitch.
WEAKEST = 0.25
#: Preference for the shorter of two equal periods, per octave: else every period's double ties.
OCTAVE_COST = 0.06
#: Two candidates, one the double of the other: how clear a gap between the multiples is, in a
#: clean voice and what noise adds; what it costs the overtone, and what no gap costs the double.
CLEAR_GAP, CLEAR_GAP_IN_NOISE = 0.03, 0.3
#: Peaks that are sharp beside a sample look lower where they fall between two.
CLEAR_GAP_IF_SHARP = 0.4
OVERTONE_COST, DOUBLE_COST = 0.25, 0.15
MULTIPLES_FROM, MULTIPLES_TO = 0.0055 * WORKING_RATE_HZ, 0.016 * WORKING_RATE_HZ
MOST_MULTIPLES = 16
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


def _wide_bands() -> list[tuple[slice, NDArray[np.float32]]]:
    """Triangles over the edges, each reaching to its neighbours' middles: bins and weights."""
    bands = []
    for low, top, high in zip(
        BAND_EDGES_HZ[:-2], BAND_EDGES_HZ[1:-1], BAND_EDGES_HZ[2:], strict=True
    ):
        bins = slice(_from(low), _from(high))
        hz = _BINS_HZ[bins]
        weight = np.minimum((hz - low) / (top - low), (high - hz) / (high - top))
        bands.append((bins, weight.astype(np.float32)))
    return bands


_WIDE_BANDS = _wide_bands()


@dataclass(frozen=True, slots=True, eq=False)
class Spectra:
    """For n frames: pitch candidates, best first, and the share of each band.

    Attributes:
        candidate_hz: ``(n, 4)``, NaN where there are fewer.
        candidate_strength: ``(n, 4)``, height of the peak, 0–1.
        candidate_worth: the same less what speaks against the lag as such.
        hiss_share, top_share: share of the energy above 2 and above 4 kHz.
        bands: ``(n, 6)``, energy in wide bands that overlap.
    """

    candidate_hz: Array
    candidate_strength: Array
    candidate_worth: Array
    hiss_share: Array
    top_share: Array
    bands: Array


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
        bands=_in_wide_bands(power),
    )


def _in_wide_bands(power: NDArray[np.float32]) -> Array:
    """Row by row, so that the figures do not hang on how many frames come at once."""
    sums = [(power[:, bins] * weight).sum(axis=1) for bins, weight in _WIDE_BANDS]
    return np.stack(sums, axis=1).astype(np.float64)


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
    worth = height - _LAG_COST[columns] - _overtone_doubt(normal, rows, ranks, lag)
    found = np.zeros((3, len(normal), CANDIDATES))
    found[0] = np.nan
    found[:, rows, ranks] = WORKING_RATE_HZ / lag, height, worth
    return found[0], found[1], found[2]


def _overtone_doubt(normal: Array, rows: Indices, ranks: Indices, lag: Array) -> Array:
    """What speaks against each candidate beside another whose lag is a whole number of its own.

    Between the multiples of the longer lag lie those of the shorter alone. A true period repeats
    itself there as well, and the longer lag is its double; a strong overtone or a formant does not,
    and the shorter lag is theirs. Multiples within 5.5 to 16 ms are looked at, where breath that a
    formant has coloured no longer repeats itself.
    """
    table = np.full((len(normal), CANDIDATES), np.inf)
    table[rows, ranks] = lag
    with np.errstate(invalid="ignore"):
        ratio = table[:, None, :] / table[:, :, None]
        times = np.rint(ratio)
        fits = (times >= 2) & (times <= 4) & (np.abs(ratio - times) < 0.04 * times)
    row, short, long = np.nonzero(fits)
    against = np.zeros_like(table)
    if row.size:
        times = times[row, short, long]
        gap, high, sharp = _between_multiples(normal, row, table[row, long] / times, times)
        clear = CLEAR_GAP + CLEAR_GAP_IN_NOISE * (1.0 - high) + CLEAR_GAP_IF_SHARP * sharp
        overtone, double = gap > clear, gap < 0.5 * clear
        against[row[double], long[double]] = DOUBLE_COST
        against[row[overtone], short[overtone]] = OVERTONE_COST
    return np.asarray(against[rows, ranks])


def _between_multiples(
    normal: Array, rows: Indices, lag: Array, times: Array
) -> tuple[Array, Array, Array]:
    """How much lower the correlation is between the multiples of the longer lag than at them, how
    high it is at them, and how sharp its peaks are; the gap is NaN where too few lie in reach,
    and speaks against neither."""
    multiples = np.arange(1, MOST_MULTIPLES + 1)
    at = lag[:, None] * multiples
    place = np.clip(np.rint(at), 2, normal.shape[1] - 3).astype(np.intp)
    flat = normal.reshape(-1)
    place += (rows * normal.shape[1])[:, None]
    place += np.argmax([flat[place - 1], flat[place], flat[place + 1]], axis=0) - 1
    low, mid, high = flat[place - 1], flat[place], flat[place + 1]
    curve = 2.0 * mid - low - high
    # between two samples a peak is twice as far up as a parabola has it, for it is no parabola
    tip = np.where(curve > 0, (high - low) ** 2 / (4.0 * np.maximum(curve, 1e-6)), 0.0)
    near = np.minimum(mid + np.minimum(tip, 0.25 * curve), 1.0)
    # each between two multiples against the line through them, for peaks fall off with their lag
    into = multiples % times[:, None]
    below = np.maximum(multiples - into, 0)
    above = below + times[:, None]
    fits = (above <= MOST_MULTIPLES) & (below > 0) & (into > 0)
    fits &= (lag[:, None] * below >= MULTIPLES_FROM) & (lag[:, None] * above <= MULTIPLES_TO)
    which = np.arange(lag.size)[:, None]
    before = near[which, np.clip(below - 1, 0, MOST_MULTIPLES - 1).astype(np.intp)]
    after = near[which, np.clip(above - 1, 0, MOST_MULTIPLES - 1).astype(np.intp)]
    line = before + (after - before) * into / times[:, None]
    count = np.count_nonzero(fits, axis=1)
    gap = np.where(fits, line - near, 0.0).sum(axis=1) / np.maximum(count, 1)
    level = np.where(fits, line, 0.0).sum(axis=1) / np.maximum(count, 1)
    reached = at <= MULTIPLES_TO
    sharp = np.where(reached, np.maximum(curve, 0.0), 0.0).sum(axis=1)
    sharp /= np.maximum(np.count_nonzero(reached, axis=1), 1)
    return np.where(count > 0, gap, np.nan), level, sharp


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
