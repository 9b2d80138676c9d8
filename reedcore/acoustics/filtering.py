"""Butterworth filters that remember where the last samples left them."""

from __future__ import annotations

from typing import Literal

import numpy as np
from scipy.signal import butter

from .compiled import Loop
from .frames import Array


def butterworth(
    kind: Literal["highpass", "bandpass"], edges_hz: float | tuple[float, float], rate_hz: int
) -> Array:
    """Of second order: its coefficients ahead and back, ``(2, n)``."""
    return np.asarray(butter(2, edges_hz, kind, fs=rate_hz), dtype=np.float64)


def high_passed(by: Array, state: Array, samples: Array, out: Array) -> None:
    """Three coefficients each way, ``by`` of ``(2, 3)``. In direct form I: what goes back is one
    product behind the last result, and the rest need not wait for it."""
    ahead, near, far = by[0, 0], by[0, 1], by[0, 2]
    near_back, far_back = by[1, 1], by[1, 2]
    before, earlier, made, made_earlier = state[0], state[1], state[2], state[3]
    for at in range(samples.size):
        value = samples[at]
        result = ahead * value + near * before + far * earlier - far_back * made_earlier
        result -= near_back * made
        earlier, before = before, value
        made_earlier, made = made, result
        out[at] = result
    state[0], state[1], state[2], state[3] = before, earlier, made, made_earlier


def band_passed(by: Array, state: Array, samples: Array, out: Array) -> None:
    """Five each way, ``by`` of ``(2, 5)``, in direct form II, transposed."""
    one, two, three, four = state[0], state[1], state[2], state[3]
    a0, a1, a2, a3, a4 = by[0, 0], by[0, 1], by[0, 2], by[0, 3], by[0, 4]
    b1, b2, b3, b4 = by[1, 1], by[1, 2], by[1, 3], by[1, 4]
    for at in range(samples.size):
        value = samples[at]
        result = a0 * value + one
        one = a1 * value - b1 * result + two
        two = a2 * value - b2 * result + three
        three = a3 * value - b3 * result + four
        four = a4 * value - b4 * result
        out[at] = result
    state[0], state[1], state[2], state[3] = one, two, three, four


HIGH_PASSED, BAND_PASSED = Loop(high_passed), Loop(band_passed)
