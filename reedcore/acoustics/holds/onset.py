"""Onset time: the rise from 10 to 90 per cent of the first plateau's amplitude."""

from __future__ import annotations

from math import isfinite, nan

import numpy as np
import scipy
from numpy.typing import NDArray

from ..settings import WORKING_RATE_HZ

PLATEAU_S = 0.300
#: Search for the envelope from this long before the first instant of the hold.
BEFORE_S = 0.060


def onset_rise_ms(samples: NDArray[np.float32], *, start_s: float, pitch_hz: float) -> float:
    """Return the rise time in ms; NaN if the plateau is incomplete.

    Args:
        samples: the whole recording at 16 kHz.
        start_s: where the hold starts.
        pitch_hz: its pitch: the envelope is taken over one period, or it would show the pulses.
    """
    first = max(0, round((start_s - BEFORE_S) * WORKING_RATE_HZ))
    last = round((start_s + PLATEAU_S) * WORKING_RATE_HZ)
    if last > samples.size or not isfinite(pitch_hz):
        return nan
    period = max(1, round(WORKING_RATE_HZ / pitch_hz))
    power = samples[first:last].astype(np.float64) ** 2
    envelope = np.sqrt(scipy.ndimage.uniform_filter1d(power, period, mode="nearest"))
    plateau = float(np.median(envelope[-round(0.2 * WORKING_RATE_HZ) :]))
    reached = np.flatnonzero(envelope >= 0.9 * plateau)
    if not reached.size:
        return nan
    below = np.flatnonzero(envelope[: reached[0]] <= 0.1 * plateau)
    if not below.size:
        return nan
    return float((reached[0] - below[-1]) / WORKING_RATE_HZ * 1000.0)
