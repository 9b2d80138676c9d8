"""Smoothed cepstral peak prominence: how far the voice stands out of its own noise.

J Speech Hear Res 1996;39:311–321; recording protocol Am J Speech-Lang Pathol 2018;27:887–905.
Compared only within the same note and sound; there is no cut-off.
"""

from __future__ import annotations

from math import nan

import numpy as np
from numpy.typing import NDArray
from scipy import fft

from .compiled import Loop
from .settings import WORKING_RATE_HZ

Singles = NDArray[np.float32]

WINDOW = 1024
HOP_S = 0.002
SMOOTH_TIME_S, SMOOTH_QUEFRENCY_S = 0.020, 0.0005
LINE_FROM_S = 0.001
PEAK_FROM_S, PEAK_TO_S = 0.002, 0.0167
#: Frames worked on at once, a second of them.
_BATCH = 500
#: And of these so many, for what is small stays near the processor.
_BLOCK = 32

_hop = round(HOP_S * WORKING_RATE_HZ)
_taper = np.hamming(WINDOW).astype(np.float32)
_line_from = round(LINE_FROM_S * WORKING_RATE_HZ)
_across_quefrency = round(SMOOTH_QUEFRENCY_S * WORKING_RATE_HZ)
#: Places of the peak's range, counted from where the line begins.
_peak_from = round(PEAK_FROM_S * WORKING_RATE_HZ) - _line_from
_peak_to = round(PEAK_TO_S * WORKING_RATE_HZ) - _line_from
_centred = np.arange(WINDOW // 2 - _line_from, dtype=np.float32)
_centred -= _centred.mean()


def cepstral_prominence_db(samples: NDArray[np.float32]) -> float:
    """Mean over the stretch, in dB; NaN where it is shorter than a window.

    Args:
        samples: a hold's middle at 16 kHz, shape ``(n,)``.
    """
    if samples.size < WINDOW:
        return nan
    frames = np.lib.stride_tricks.sliding_window_view(samples, WINDOW)[::_hop]
    across_time = round(SMOOTH_TIME_S / HOP_S)
    total, count = 0.0, 0
    for first in range(0, len(frames), _BATCH):
        # a few frames more on each side, so that smoothing meets no edge inside the hold
        low, high = max(0, first - across_time), min(len(frames), first + _BATCH + across_time)
        prominence = _prominences(frames[low:high], across_time)[first - low :][:_BATCH]
        total += float(prominence.sum(dtype=np.float64))
        count += len(prominence)
    return total / count


def _prominences(frames: NDArray[np.float32], across_time: int) -> NDArray[np.float32]:
    level = np.empty((len(frames), WINDOW // 2 - _line_from), np.float32)
    for at in range(0, len(frames), _BLOCK):
        level[at : at + _BLOCK] = _level(frames[at : at + _BLOCK])
    # smoothing and fitting a line are both sums, so the line may be fitted first and smoothed after
    slope = level @ _centred / np.float32(_centred @ _centred)
    middle = level.mean(axis=1)
    out = np.empty(len(level), np.float32)
    _SMOOTHED(level, slope, middle, _centred, across_time, out)
    return out


def _level(frames: NDArray[np.float32]) -> NDArray[np.float32]:
    """The cepstrum of each frame from where its line begins, in dB."""
    bins = fft.rfft(frames * _taper, axis=1, overwrite_x=True)
    spectrum = np.log(bins.real**2 + bins.imag**2 + np.float32(1e-16))
    cepstrum = fft.irfft(spectrum, axis=1)[:, _line_from : WINDOW // 2]
    level = np.log(cepstrum**2 + np.float32(1e-18))
    return np.asarray(level * np.float32(10.0 / np.log(10.0)))


def _smoothed(
    level: Singles, slope: Singles, middle: Singles, centred: Singles, width: int, out: Singles
) -> None:
    """How far the highest place of the smoothed cepstrum lies over its line, frame by frame.

    Smoothed over frames by a running mean, as wide as can be at the two ends, then over quefrency.
    """
    margin = _across_quefrency
    first = _peak_from - margin
    columns = _peak_to + margin + 1 - first
    sums = np.zeros(columns)
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
        total = 0.0
        for place in range(margin - _across_quefrency // 2, margin + (_across_quefrency - 1) // 2):
            total += sums[place]
        top, best = -np.inf, 0
        for place in range(_peak_to - _peak_from + 1):
            total += sums[place + margin + (_across_quefrency - 1) // 2]
            if total > top:
                top, best = total, place
            total -= sums[place + margin - _across_quefrency // 2]
        line = middles + slopes * centred[best + _peak_from]
        out[frame] = (top / _across_quefrency - line) / (high - low)


_SMOOTHED = Loop(_smoothed)
