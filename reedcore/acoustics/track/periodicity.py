"""Periodicity of a stretch of sound at each lag, and its energy in each band.

The autocorrelation of a windowed frame divided by that of its window (Proc Inst Phonetic Sci Univ
Amsterdam 1993;17:97–110), taken through the power spectrum, so that one transform serves pitch and
band levels alike and the band that carries no voice is left out of the pitch.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from ..compiled import Loop
from ..settings import FFT_SIZE, HISS_FROM_HZ, TOP_FROM_HZ, WINDOW, WORKING_RATE_HZ
from .candidates import LONGEST_LAG, candidates_of, lag_cost

Array = NDArray[np.float64]
Indices = NDArray[np.intp]

#: Below the lowest voice: hum and rumble.
LOWEST_SOUND_HZ = 45.0
#: Wide enough that an unsteady voice stays in its band, narrow enough to show the mouth.
BAND_EDGES_HZ = (80.0, 400.0, 700.0, 1100.0, 1700.0, 2600.0, 4000.0, 8000.0)

_BINS_HZ = np.fft.rfftfreq(FFT_SIZE, 1.0 / WORKING_RATE_HZ)


def _first_bin(hz: float) -> int:
    """Return the first bin at or above a frequency."""
    return int(np.searchsorted(_BINS_HZ, hz))


#: Taper of the window.
TAPER = np.hanning(WINDOW + 1)[:-1].astype(np.float32)


def _pitch_band() -> Array:
    """Return the weights: full up to 2 kHz, zero from 4 kHz and below the lowest voice."""
    weight = 0.5 * (1.0 + np.cos(np.pi * np.clip((_BINS_HZ - 2000.0) / 2000.0, 0.0, 1.0)))
    weight[_BINS_HZ < LOWEST_SOUND_HZ] = 0.0
    return np.asarray(weight)


_PITCH_BAND = _pitch_band().astype(np.float32)


def _window_correlation() -> Array:
    """Return the taper's own autocorrelation, band-limited like the frames divided by it."""
    power = np.abs(np.fft.rfft(TAPER.astype(np.float64), FFT_SIZE)) ** 2
    raw = np.fft.irfft(power, FFT_SIZE)[: LONGEST_LAG + 2]
    return np.asarray(raw / raw[0])


_WINDOW_CORRELATION = _window_correlation().astype(np.float32)


_LAG_COST = lag_cost(_WINDOW_CORRELATION)


def _weights() -> tuple[NDArray[np.float32], NDArray[np.int64]]:
    """Return the weight of each bin in each sum, ``(9, bins)``, and the bins used by each.

    All that sounds, what lies above 2 and above 4 kHz, and triangles over the edges of the wide
    bands, each reaching to its neighbours' middles.
    """
    last = _BINS_HZ.size
    rows, spans = np.zeros((3 + len(BAND_EDGES_HZ) - 2, last), np.float32), []
    for row, low in enumerate((LOWEST_SOUND_HZ, HISS_FROM_HZ, TOP_FROM_HZ)):
        rows[row, _first_bin(low) :] = 1.0
        spans.append((_first_bin(low), last))
    triangles = zip(BAND_EDGES_HZ[:-2], BAND_EDGES_HZ[1:-1], BAND_EDGES_HZ[2:], strict=True)
    for row, (low, top, high) in enumerate(triangles, start=3):
        bins = slice(_first_bin(low), _first_bin(high))
        hz = _BINS_HZ[bins]
        rows[row, bins] = np.minimum((hz - low) / (top - low), (high - hz) / (high - top))
        spans.append((bins.start, bins.stop))
    return rows, np.array(spans, np.int64)


_WEIGHTS, _SPANS = _weights()
#: Frames processed at once: a small block stays in the processor's cache.
BLOCK = 32
#: Transform blocks of this size: they are as fast as one, and leave no odd remainder.
TOGETHER = 4
#: Rows of the sums: all sound, above 2 kHz, above 4 kHz, then the wide bands.
ALL, HISS, TOP, BANDS_FROM = range(4)


@dataclass(frozen=True, slots=True, eq=False)
class Spectra:
    """Results for n frames: pitch candidates, best first, and the energy of each band.

    Attributes:
        candidate_hz: ``(n, 4)``, NaN where there are fewer.
        candidate_strength: ``(n, 4)``, height of the peak, 0–1.
        candidate_worth: the same less what speaks against the lag as such.
        sums: ``(n, 9)``, see :data:`ALL`; the wide bands overlap.
    """

    candidate_hz: Array
    candidate_strength: Array
    candidate_worth: Array
    sums: Array


def spectra_of(windows: NDArray[np.float32]) -> Spectra:
    """Return the spectra of frames.

    Args:
        windows: tapered by :data:`TAPER` and followed by silence, ``(n, 1024)`` at 16 kHz.
    """
    count = len(windows)
    sums = np.empty((count, len(_WEIGHTS)))
    bins = scipy.fft.rfft(windows, axis=1)
    _WEIGHED(bins, _PITCH_BAND, _WEIGHTS, _SPANS, sums)
    correlation = scipy.fft.irfft(bins, FFT_SIZE, axis=1, overwrite_x=True)
    hz, strength, worth = candidates_of(correlation, _WINDOW_CORRELATION, _LAG_COST)
    return Spectra(hz, strength, worth, sums)


def _weigh_bins(
    bins: NDArray[np.complex64],
    weight: NDArray[np.float32],
    rows: NDArray[np.float32],
    spans: NDArray[np.int64],
    sums: Array,
) -> None:
    """Square each bin up to the highest that a pitch needs, and sum the weighted powers of
    all."""
    power = np.empty(bins.shape[1], np.float32)
    for frame in range(bins.shape[0]):
        line = bins[frame]
        for each in range(line.size):
            power[each] = line[each].real * line[each].real + line[each].imag * line[each].imag
        for each in range(line.size):
            line[each] = power[each] * weight[each]
        for row in range(rows.shape[0]):
            low, high = spans[row, 0], spans[row, 1]
            part, by = power[low:high], rows[row, low:high]
            total = 0.0
            for each in range(part.size):
                total += part[each] * by[each]
            sums[frame, row] = total


_WEIGHED = Loop(_weigh_bins)
