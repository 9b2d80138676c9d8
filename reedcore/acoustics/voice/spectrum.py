"""Long-term average spectrum of a voice: slope, tilt and alpha ratio."""

from __future__ import annotations

from dataclasses import dataclass
from math import log10, nan

import numpy as np
import scipy
from numpy.typing import NDArray

from ..settings import WORKING_RATE_HZ

Singles = NDArray[np.float32]

#: Windows of 64 ms, half overlapping: 16 Hz per bin.
WINDOW, STEP = 1024, 512
#: Bands whose levels are compared, Hz (convention).
LOW_HZ, HIGH_HZ, ALPHA_HZ = (50.0, 1000.0), (1000.0, 4000.0), (1000.0, 5000.0)
#: The tilt is the slope of a line through bands of this width, over log frequency.
TILT_HZ, TILT_BAND_HZ = (100.0, 5000.0), 100.0
_TAPER = np.hanning(WINDOW).astype(np.float32)
_BIN_HZ = WORKING_RATE_HZ / WINDOW
_BLOCK = 64


@dataclass(frozen=True, slots=True)
class LongTermSpectrum:
    """NaN where the stretch is shorter than a window.

    Attributes:
        slope_db: the mean energy of 1 to 4 kHz over that of 50 Hz to 1 kHz (of a hertz in each).
        tilt_db_per_octave: of a line through the whole.
        alpha_db: all the energy of 1 to 5 kHz over all that of 50 Hz to 1 kHz.
    """

    slope_db: float
    tilt_db_per_octave: float
    alpha_db: float


UNKNOWN = LongTermSpectrum(nan, nan, nan)


def long_term_spectrum(samples: Singles) -> LongTermSpectrum:
    """Return the figures of the average spectrum.

    Args:
        samples: a hold's middle, or the voiced parts of speech one after another, at 16 kHz.
    """
    if samples.size < WINDOW:
        return UNKNOWN
    windows = np.lib.stride_tricks.sliding_window_view(samples, WINDOW)[::STEP]
    power = np.zeros(WINDOW // 2 + 1)
    for first in range(0, len(windows), _BLOCK):
        bins = scipy.fft.rfft(windows[first : first + _BLOCK] * _TAPER, axis=1)
        power += (bins.real**2 + bins.imag**2).sum(axis=0)
    low, high = _energy(power, LOW_HZ), _energy(power, HIGH_HZ)
    if not low[0] > 0.0:
        return UNKNOWN
    return LongTermSpectrum(
        10.0 * log10(max(high[1], 1e-30) / low[1]),
        _tilt(power),
        10.0 * log10(max(_energy(power, ALPHA_HZ)[0], 1e-30) / low[0]),
    )


def _energy(power: NDArray[np.float64], band_hz: tuple[float, float]) -> tuple[float, float]:
    """Return the total energy of a band and its mean per bin."""
    first, last = (round(hz / _BIN_HZ) for hz in band_hz)
    return float(power[first:last].sum()), float(power[first:last].mean())


def _tilt(power: NDArray[np.float64]) -> float:
    edges = np.arange(TILT_HZ[0], TILT_HZ[1] + 1.0, TILT_BAND_HZ)
    levels = [
        10.0 * log10(max(_energy(power, (low, low + TILT_BAND_HZ))[1], 1e-30)) for low in edges
    ]
    slope, _ = np.polyfit(np.log2(edges + TILT_BAND_HZ / 2), levels, 1)
    return float(slope)
