"""A try's trace in few bytes: pitch in cents from A4 and level, one pair every 20 ms.

Kept with every trial when the sound itself is not; 15 s take 3 kB.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

STEP_S = 0.020
#: Missing value: outside the possible range.
_UNKNOWN = np.iinfo(np.int16).min


@dataclass(frozen=True, slots=True, eq=False)
class PitchTrace:
    """Arrays of one length, one row each 20 ms, NaN where unknown.

    Attributes:
        cents: pitch above A4 = 440 Hz.
        level_dbfs: level relative to full scale.
    """

    cents: NDArray[np.float64]
    level_dbfs: NDArray[np.float64]


def pack_trace(trace: PitchTrace) -> bytes:
    """Return little-endian 16-bit pairs: whole cents, tenths of a decibel."""
    pairs = np.stack([trace.cents, trace.level_dbfs * 10.0], axis=1)
    known = np.isfinite(pairs)
    whole = np.clip(np.round(np.where(known, pairs, 0.0)), -32767, 32767)
    return np.where(known, whole, _UNKNOWN).astype("<i2").tobytes()


def unpack_trace(data: bytes) -> PitchTrace:
    """Return the trace that :func:`pack_trace` packed."""
    pairs = np.frombuffer(data, dtype="<i2").reshape(-1, 2)
    values = np.where(pairs == _UNKNOWN, np.nan, pairs.astype(np.float64))
    return PitchTrace(values[:, 0], values[:, 1] / 10.0)


def trace_of(pitch_hz: NDArray[np.float64], level_dbfs: NDArray[np.float64]) -> PitchTrace:
    """Return every second 10 ms frame of a hold."""
    with np.errstate(invalid="ignore"):
        cents = 1200.0 * np.log2(pitch_hz[::2] / 440.0)
    return PitchTrace(cents, level_dbfs[::2].copy())
