"""Butterworth filters that remember where the last samples left them."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..compiled import Loop
from .frames import Array

#: Filters at the usual sampling rates, as designed by ``scipy.signal.butter`` (a test designs them
#: again). Importing scipy.signal takes as long as a minute of analysis.
_DESIGNS: dict[tuple[str, float | tuple[float, float], int], tuple[tuple[float, ...], ...]] = {
    ("bandpass", (50.0, 1500.0), 16_000): (
        (0.057116828173209185, 0.0, -0.11423365634641837, 0.0, 0.057116828173209185),
        (1.0, -3.200399401434297, 3.855435851728894, -2.1029288543269535, 0.447986482135974),
    ),
}
for _rate, _ahead, _back in (
    (8_000, 0.9889542480671399, (1.0, -1.9777864837767636, 0.9780305084917958)),
    (11_025, 0.9919727398025888, (1.0, -1.9838810416608388, 0.984009917549517)),
    (16_000, 0.9944617889581948, (1.0, -1.9888929058996532, 0.9889542499331266)),
    (22_050, 0.9959782830249141, (1.0, -1.9919403917769984, 0.9919727403226575)),
    (24_000, 0.9963044429693491, (1.0, -1.992595228750302, 0.9926225431270949)),
    (32_000, 0.9972270499044704, (1.0, -1.9944464105419268, 0.9944617890759538)),
    (44_100, 0.997987115675119, (1.0, -1.9959701796428286, 0.9959782830576475)),
    (48_000, 0.9981505111904518, (1.0, -1.996297601769122, 0.9963044429926857)),
    (88_200, 0.9989930508651776, (1.0, -1.9979850877835377, 0.9979871156771719)),
    (96_000, 0.9990748276239033, (1.0, -1.9981487993036977, 0.998150511191915)),
):
    _DESIGNS["highpass", 20.0, _rate] = ((_ahead, -2.0 * _ahead, _ahead), _back)


def butterworth(
    kind: Literal["highpass", "bandpass"], edges_hz: float | tuple[float, float], rate_hz: int
) -> Array:
    """Return the coefficients of a second-order filter, feed-forward and feedback, ``(2, n)``."""
    known = _DESIGNS.get((kind, edges_hz, rate_hz))
    if known:
        return np.array(known)
    from scipy.signal import butter

    return np.asarray(butter(2, edges_hz, kind, fs=rate_hz), dtype=np.float64)


def high_passed(by: Array, state: Array, samples: Array, out: Array) -> None:
    """Filter with three coefficients in each direction, ``by`` of ``(2, 3)``, in direct form I: the
    feedback is one product after the last result, so the rest need not wait for it."""
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
    """Filter with five coefficients in each direction, ``by`` of ``(2, 5)``, in transposed direct
    form II."""
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
