"""Smoothed cepstral peak prominence: the height of the voice above its own noise.

The power cepstrum is smoothed as power, over time and over quefrency; the peak stands between 60
and 330 Hz, and the line under it is a robust one through the whole cepstrum. So values that are
published of vowels and of connected speech apply (J Voice 2015;29:35-43; J Speech Hear Res
1996;39:311-321; recording protocol Am J Speech-Lang Pathol 2018;27:887-905). Compared only within
the same note, sound and text; there is no cut-off.
"""

from __future__ import annotations

from math import exp, nan, pi

import numpy as np
import scipy
from numpy.typing import NDArray

from ..settings import HOP_S, WORKING_RATE_HZ

Singles = NDArray[np.float32]

#: The spectrum ends at 5 kHz (definition), so all processing runs at twice that rate.
RATE_HZ = 10_000
#: A Gaussian window over six periods of the lowest pitch, of which three count (definition).
PEAK_FROM_HZ, PEAK_TO_HZ = 60.0, 330.0
WINDOW_S = 6.0 / PEAK_FROM_HZ
WINDOW, SIZE = round(WINDOW_S * RATE_HZ), 1024
#: Smoothed over 10 ms and 1 ms (definition). Three windows in 10 ms, one window apart from the next
#: three, give the mean of a window every 2 ms within 0.05 dB, because a window is ten times as
#: long.
SMOOTH_QUEFRENCY_S, APART_S, TOGETHER, STEP_S = 0.001, 0.004, 3, 0.030
EMPHASIS_FROM_HZ = 50.0
#: 16 kHz samples needed for one window.
LEAST = round(WINDOW_S * WORKING_RATE_HZ)

_EMPHASIS = exp(-2.0 * pi * EMPHASIS_FROM_HZ / RATE_HZ)
_WIDE = round(SMOOTH_QUEFRENCY_S * RATE_HZ)
_APART, _STEP = round(APART_S * RATE_HZ), round(STEP_S * RATE_HZ)
_REACH = WINDOW + (TOGETHER - 1) * _APART
#: Groups of windows processed at once: 1.25 s of sound.
_BATCH = 64
#: Resampled a piece at a time (16 s), so that memory does not grow with the recording. Each piece
#: takes this much on both sides with it, because the ends of a Fourier transform meet.
_PIECE, _AROUND = 16 * WORKING_RATE_HZ, 400
#: Search range of the peak, and the two halves of the line's points.
_FIRST, _LAST = int(np.ceil(RATE_HZ / PEAK_TO_HZ)), int(RATE_HZ / PEAK_FROM_HZ)
_POINTS = SIZE // 2 + 1
_HALF, _OTHER = _POINTS // 2, _POINTS - _POINTS // 2
_PLACES = np.arange(_POINTS, dtype=np.float32)


def _gaussian() -> Singles:
    middle = 0.5 * (WINDOW + 1)
    off = (np.arange(1, WINDOW + 1) - middle) / (WINDOW + 1)
    edge = exp(-12.0)
    return np.asarray((np.exp(-48.0 * off**2) - edge) / (1.0 - edge), np.float32)


_TAPER = _gaussian()


def cepstral_prominence_db(
    samples: NDArray[np.float32], *, voiced: NDArray[np.bool_] | None = None
) -> float:
    """Return the mean over the stretch, dB; NaN if it is shorter than a window of 0.1 s.

    Args:
        samples: a hold's middle, or speech, at 16 kHz, shape ``(n,)``.
        voiced: of speech, for each frame of 10 ms whether it has a pitch; only windows whose middle
            lies in one that has are taken.
    """
    if samples.size < LEAST:
        return nan
    sound = _pre_emphasise(_resample_to_10_khz(samples))
    starts = np.arange(0, sound.size - min(_REACH, sound.size) + 1, _STEP)
    if voiced is not None:
        middles = ((starts + _REACH / 2) / RATE_HZ / HOP_S).astype(int)
        starts = starts[voiced[np.minimum(middles, len(voiced) - 1)]]
    if not starts.size:
        return nan
    sums = 0.0
    windows = np.lib.stride_tricks.sliding_window_view(sound, WINDOW)
    for first in range(0, starts.size, _BATCH):
        rows = starts[first : first + _BATCH]
        sums += float(_prominences(_cepstra(windows, rows)).sum(dtype=np.float64))
    return sums / starts.size


def _resample_to_10_khz(samples: Singles) -> Singles:
    """Return the sound resampled to 10 kHz, with silence assumed before its start and after its
    end."""
    pieces = [_resampled_piece(samples, at) for at in range(0, samples.size, _PIECE)]
    return np.concatenate(pieces)


def _resampled_piece(samples: Singles, at: int) -> Singles:
    own = min(_PIECE, samples.size - at)
    size = 8 * scipy.fft.next_fast_len(
        -(-(own + 2 * _AROUND) // 8), real=True
    )  # 16 to 10 kHz is 8 to 5.
    piece = np.zeros(size, np.float32)
    before, after = min(at, _AROUND), min(samples.size - at - own, _AROUND)
    piece[_AROUND - before : _AROUND + own + after] = samples[at - before : at + own + after]
    out = size * 5 // 8
    bins = scipy.fft.rfft(piece)[: out // 2 + 1]
    ratio = RATE_HZ / WORKING_RATE_HZ
    first = round(_AROUND * ratio)
    made: Singles = scipy.fft.irfft(bins, out)[first : first + round(own * ratio)]
    return np.asarray(made * np.float32(ratio), np.float32)


def _pre_emphasise(sound: Singles) -> Singles:
    raised = sound.copy()
    raised[1:] -= np.float32(_EMPHASIS) * sound[:-1]
    return raised


def _cepstra(windows: Singles, starts: NDArray[np.int_]) -> Singles:
    """Return the power cepstrum at each start, smoothed over time; shape ``(starts, 513)``."""
    last = len(windows) - 1
    summed = np.zeros((starts.size, _POINTS), np.float32)
    for at in range(TOGETHER):
        pieces = windows[np.minimum(starts + at * _APART, last)]
        pieces = (pieces - pieces.mean(axis=1, keepdims=True)) * _TAPER
        bins = scipy.fft.rfft(pieces, SIZE, axis=1)
        level = np.log(bins.real**2 + bins.imag**2 + np.float32(1e-30))
        # A logarithmic spectrum is real and even, so its inverse is a cosine transform.
        cepstrum = scipy.fft.dct(level, type=1, axis=1, overwrite_x=True)
        summed += np.square(cepstrum, out=cepstrum)
    return summed


def _prominences(cepstra: Singles) -> NDArray[np.floating]:
    """Return the height of the peak of each cepstrum above its trend line (dB)."""
    db = 10.0 * np.log10(_smooth(cepstra) + np.float32(1e-30))
    slope = np.median((db[:, _OTHER:] - db[:, :_HALF]) / np.float32(_OTHER), axis=1)
    middle = np.median(db - slope[:, None] * _PLACES, axis=1)
    rows = np.arange(len(db))
    top = _FIRST + np.argmax(db[:, _FIRST : _LAST + 1], axis=1)
    before, height, after = (db[rows, top + step] for step in (-1, 0, 1))
    # The logarithm of a smoothed peak is almost a parabola.
    curve, lean = 2.0 * height - before - after, 0.5 * (after - before)
    inside = (top > _FIRST) & (top < _LAST) & (curve > 0.0)
    shift = np.where(inside, lean / np.where(inside, curve, 1.0), 0.0)
    over: NDArray[np.floating] = height + 0.5 * lean * shift - (slope * (top + shift) + middle)
    return over


def _smooth(cepstra: Singles) -> NDArray[np.float64]:
    """Return the running mean over quefrency, narrower at the ends."""
    sums = np.zeros((len(cepstra), _POINTS + 1))
    np.cumsum(cepstra, axis=1, dtype=np.float64, out=sums[:, 1:])
    places = np.arange(_POINTS)
    low = np.maximum(places - _WIDE // 2, 0)
    high = np.minimum(places + _WIDE // 2 - 1, _POINTS - 1)
    means: NDArray[np.float64] = (sums[:, high + 1] - sums[:, low]) / (high - low + 1)
    return means
