"""Smoothed cepstral peak prominence: how far the voice stands out of its own noise.

J Speech Hear Res 1996;39:311–321; recording protocol Am J Speech-Lang Pathol 2018;27:887–905.
Compared only within the same note and sound; there is no cut-off.
"""

from __future__ import annotations

from math import nan

import numpy as np
from numpy.typing import NDArray
from scipy import fft

from ..compiled import Loop
from ..settings import WORKING_RATE_HZ

Singles = NDArray[np.float32]

WINDOW = 1024
HOP_S = 0.002
SMOOTH_TIME_S, SMOOTH_QUEFRENCY_S = 0.020, 0.0005
LINE_FROM_S = 0.001
PEAK_FROM_S, PEAK_TO_S = 0.002, 0.0167
#: Frames worked on at once, a second of them.
_BATCH = 500
#: And of these so many, for what is small stays near the processor.
_BLOCK = 64

_hop = round(HOP_S * WORKING_RATE_HZ)
_taper = np.hamming(WINDOW).astype(np.float32)
_line_from = round(LINE_FROM_S * WORKING_RATE_HZ)
_across_quefrency = round(SMOOTH_QUEFRENCY_S * WORKING_RATE_HZ)
#: A cosine transform is as many times larger as its window is long; and the least of a square.
_LEAST = np.float32(1e-18 * WINDOW**2)
#: From the logarithm of a square to dB: all that comes after it are sums, so it comes last.
_DB = np.float32(10.0 / np.log(10.0))
#: Places of the peak's range, counted from where the line begins.
_peak_from = round(PEAK_FROM_S * WORKING_RATE_HZ) - _line_from
_peak_to = round(PEAK_TO_S * WORKING_RATE_HZ) - _line_from
_centred = np.arange(WINDOW // 2 - _line_from, dtype=np.float32)
_centred -= _centred.mean()
_centred_square = np.float32(_centred @ _centred)


def cepstral_prominence_db(samples: NDArray[np.float32]) -> float:
    """Mean over the stretch, in dB; NaN where it is shorter than a window.

    Args:
        samples: a hold's middle at 16 kHz, shape ``(n,)``.
    """
    if samples.size < WINDOW:
        return nan
    count = (samples.size - WINDOW) // _hop + 1
    across_time = round(SMOOTH_TIME_S / HOP_S)
    room = np.empty((min(count, _BATCH + 2 * across_time), WINDOW // 2 - _line_from), np.float32)
    total = 0.0
    for first in range(0, count, _BATCH):
        # a few frames more on each side, so that smoothing meets no edge inside the hold
        low, high = max(0, first - across_time), min(count, first + _BATCH + across_time)
        level = room[: high - low]
        _fill_level(samples, low, level)
        prominence = _prominences(level, across_time)[first - low :][:_BATCH]
        total += float(prominence.sum(dtype=np.float64))
    return total / count


def _prominences(level: Singles, across_time: int) -> Singles:
    # smoothing and fitting a line are both sums, so the line may be fitted first and smoothed after
    slope, middle, out = np.empty((3, len(level)), np.float32)
    _LINED(level, _centred, _centred_square, slope, middle)
    _SMOOTHED(level, slope, middle, _centred, across_time, out)
    out *= _DB
    return out


def _fill_level(samples: Singles, first: int, level: Singles) -> None:
    """The cepstrum of so many frames, from where their line begins, as the logarithm of its square.

    A logarithmic spectrum is real and even, so its transform back is a cosine transform.
    """
    tapered = np.empty((min(_BLOCK, len(level)), WINDOW), np.float32)
    power = np.empty((len(tapered), WINDOW // 2 + 1), np.float32)
    for at in range(0, len(level), _BLOCK):
        out = level[at : at + _BLOCK]
        frames, powers = tapered[: len(out)], power[: len(out)]
        _TAPERED(samples[(first + at) * _hop :], _taper, _hop, frames)
        _POWERS(fft.rfft(frames, axis=1), powers)
        np.log(powers, out=powers)
        _SQUARED(fft.dct(powers, type=1, axis=1, overwrite_x=True), out)
        np.log(out, out=out)


def _tapered(samples: Singles, taper: Singles, hop: int, out: Singles) -> None:
    for frame in range(out.shape[0]):
        piece = samples[frame * hop : frame * hop + out.shape[1]]
        for place in range(out.shape[1]):
            out[frame, place] = piece[place] * taper[place]


def _powers(bins: Singles, out: Singles) -> None:
    for frame in range(bins.shape[0]):
        for place in range(bins.shape[1]):
            one = bins[frame, place]
            out[frame, place] = one.real * one.real + one.imag * one.imag + np.float32(1e-16)


def _squared(cepstrum: Singles, out: Singles) -> None:
    for frame in range(out.shape[0]):
        line = cepstrum[frame, _line_from : _line_from + out.shape[1]]
        for place in range(out.shape[1]):
            out[frame, place] = line[place] * line[place] + _LEAST


def _lined(
    level: Singles, centred: Singles, square: np.float32, slope: Singles, middle: Singles
) -> None:
    """The line through each row: its slope and its middle."""
    for frame in range(level.shape[0]):
        line = level[frame]
        along, whole = np.float32(0.0), np.float32(0.0)
        for place in range(centred.size):
            along += line[place] * centred[place]
            whole += line[place]
        slope[frame], middle[frame] = along / square, whole / centred.size


_TAPERED, _POWERS, _SQUARED = Loop(_tapered), Loop(_powers), Loop(_squared)
_LINED = Loop(_lined)


def _smoothed(
    level: Singles, slope: Singles, middle: Singles, centred: Singles, width: int, out: Singles
) -> None:
    """How far the highest place of the smoothed cepstrum lies over its line, frame by frame.

    Smoothed over frames by a running mean, as wide as can be at the two ends, then over quefrency.
    """
    margin = _across_quefrency
    first = _peak_from - margin
    columns = _peak_to + margin + 1 - first
    sums, wide = np.zeros(columns), np.empty(_peak_to - _peak_from + 1)
    slopes, middles = 0.0, 0.0
    low, high = 0, 0
    count = level.shape[0]
    for frame in range(count):
        to, since = min(frame + (width + 1) // 2, count), max(frame - width // 2, 0)
        while high < to:
            row = level[high, first : first + columns]
            for place in range(columns):
                sums[place] += row[place]
            slopes += slope[high]
            middles += middle[high]
            high += 1
        while low < since:
            row = level[low, first : first + columns]
            for place in range(columns):
                sums[place] -= row[place]
            slopes -= slope[low]
            middles -= middle[low]
            low += 1
        # the window over quefrency reaches half its width back, and one place less ahead
        wide[:] = 0.0
        for step in range(_across_quefrency):
            shifted = sums[margin - _across_quefrency // 2 + step :]
            for place in range(wide.size):
                wide[place] += shifted[place]
        top, best = -np.inf, 0
        for place in range(wide.size):
            if wide[place] > top:
                top, best = wide[place], place
        line = middles + slopes * centred[best + _peak_from]
        out[frame] = (top / _across_quefrency - line) / (high - low)


_SMOOTHED = Loop(_smoothed)
