"""Frequency weighting A, C and Z to IEC 61672-1, applied in the frequency domain.

Up to min(8 kHz, 0.45 · rate): above that a microphone of this class says nothing reliable.
"""

from __future__ import annotations

from enum import StrEnum
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .frames import Array, dbfs
from .recording import as_floats, check_rate

#: The four corner frequencies of the standard, Hz.
_F1, _F2, _F3, _F4 = 20.598997, 107.65265, 737.86223, 12194.217
#: Both curves pass through 0 dB at 1 kHz.
_A_AT_1_KHZ_DB, _C_AT_1_KHZ_DB = 2.0, 0.0619
HIGHEST_HZ, HIGHEST_SHARE = 8_000.0, 0.45
#: The cut lies slightly higher, so that a tone just below is not halved.
BEYOND = 1.04
#: Samples transformed at once: bounds the memory for a long recording.
_BLOCK = 1 << 17


class Weighting(StrEnum):
    """Z leaves the sound as it is."""

    A = "A"
    C = "C"
    Z = "Z"


def weighting_db(hz: Array, weighting: Weighting) -> Array:
    """Return the gain of the weighting at each frequency, dB; −inf at 0 Hz for A and C."""
    if weighting is Weighting.Z:
        return np.zeros_like(hz)
    f2 = np.asarray(hz, dtype=np.float64) ** 2
    with np.errstate(divide="ignore"):
        c = 20.0 * np.log10(_F4**2 * f2 / ((f2 + _F1**2) * (f2 + _F4**2)))
        if weighting is Weighting.C:
            return np.asarray(c + _C_AT_1_KHZ_DB)
        a = c + 20.0 * np.log10(f2 / np.sqrt((f2 + _F2**2) * (f2 + _F3**2)))
    return np.asarray(a + _A_AT_1_KHZ_DB)


def weighted_level_dbfs(samples: NDArray[Any], rate_hz: int, weighting: Weighting) -> float:
    """Return level of a steady sound, energetic over the whole; 0 dBFS is a full-scale sine of 1
    kHz.

    Args:
        samples: shape ``(n,)``, PCM integers or floats with full scale at ±1.

    Raises:
        RateOutOfRange: not 8–96 kHz.
    """
    check_rate(rate_hz)
    if not samples.size:
        return -np.inf
    total = 0.0
    for start in range(0, len(samples), _BLOCK):
        block = as_floats(samples[start : start + _BLOCK])
        power = np.abs(np.fft.rfft(block)) ** 2
        hz = np.fft.rfftfreq(block.size, 1.0 / rate_hz).astype(np.float64)
        gain = 10.0 ** (weighting_db(hz, weighting) / 10.0)
        gain[hz > BEYOND * min(HIGHEST_HZ, HIGHEST_SHARE * rate_hz)] = 0.0
        gain[0] = 0.0  # An offset is not sound.
        power[1 : (block.size + 1) // 2] *= 2.0  # Both signs of every frequency except the last.
        total += float(np.sum(power * gain)) / block.size
    return float(dbfs(np.array([total / len(samples)]))[0])


def weighted_by_db(samples: NDArray[Any], rate_hz: int, weighting: Weighting) -> float:
    """Return how much higher a meter of this weighting reads a sound than one without; 0 for
    silence.

    Args:
        samples: as of :func:`weighted_level_dbfs`.
    """
    plain = weighted_level_dbfs(samples, rate_hz, Weighting.Z)
    if not np.isfinite(plain):
        return 0.0
    return weighted_level_dbfs(samples, rate_hz, weighting) - plain
