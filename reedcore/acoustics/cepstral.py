"""Smoothed cepstral peak prominence: how far the voice stands out of its own noise.

J Speech Hear Res 1996;39:311–321; recording protocol Am J Speech-Lang Pathol 2018;27:887–905.
Compared only within the same note and sound; there is no cut-off.
"""

from __future__ import annotations

from math import nan
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy import fft
from scipy.ndimage import uniform_filter1d

from .settings import WORKING_RATE_HZ

WINDOW = 1024
HOP_S = 0.002
SMOOTH_TIME_S, SMOOTH_QUEFRENCY_S = 0.020, 0.0005
LINE_FROM_S = 0.001
PEAK_FROM_S, PEAK_TO_S = 0.002, 0.0167
#: Frames worked on at once, a second of them.
_BATCH = 500

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
    bins = fft.rfft(frames * _taper, axis=1, overwrite_x=True)
    spectrum = np.log(bins.real**2 + bins.imag**2 + np.float32(1e-16))
    cepstrum = fft.irfft(spectrum, axis=1)[:, _line_from : WINDOW // 2]
    level = np.log(cepstrum**2 + np.float32(1e-18))
    level *= np.float32(10.0 / np.log(10.0))
    # smoothing and fitting a line are both sums, so the line may be fitted first and smoothed after
    slope = _over_time(level @ _centred / np.float32(_centred @ _centred), across_time)
    middle = _over_time(level.mean(axis=1), across_time)
    margin = _across_quefrency
    sought = level[:, _peak_from - margin : _peak_to + margin + 1]
    smooth = uniform_filter1d(_over_time(sought, across_time), _across_quefrency, axis=1)
    smooth = smooth[:, margin : smooth.shape[1] - margin]
    place = np.argmax(smooth, axis=1)
    line = middle + slope * _centred[place + _peak_from]
    return np.asarray(smooth[np.arange(len(smooth)), place] - line)


def _over_time(values: NDArray[np.floating[Any]], width: int) -> NDArray[np.float32]:
    """A running mean over frames, as wide as can be at the two ends."""
    total = np.cumsum(values, axis=0, dtype=np.float64)
    total = np.concatenate([np.zeros_like(total[:1]), total])
    at = np.arange(len(values))
    first, last = np.maximum(at - width // 2, 0), np.minimum(at + (width + 1) // 2, len(values))
    counts = (last - first).reshape((-1,) + (1,) * (values.ndim - 1))
    return np.asarray((total[last] - total[first]) / counts, dtype=np.float32)
