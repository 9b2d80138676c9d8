"""Convert samples of any shape to one channel of floats."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from reedcore.errors import DamagedRecording, RateOutOfRange, ValueOutOfRange

from ..settings import HIGHEST_RATE_HZ, LOWEST_RATE_HZ

FloatArray = NDArray[np.float64]


def check_rate(rate_hz: int) -> int:
    """Return the rate as given, when it is one that can be measured.

    Raises:
        RateOutOfRange: it is not between 8 and 96 kHz.
    """
    if not LOWEST_RATE_HZ <= rate_hz <= HIGHEST_RATE_HZ:
        raise RateOutOfRange(rate_hz=rate_hz, lowest_hz=LOWEST_RATE_HZ, highest_hz=HIGHEST_RATE_HZ)
    return int(rate_hz)


def as_floats(samples: NDArray[Any]) -> FloatArray:
    """Return PCM integers or floats as floats with full scale at ±1; unsigned bytes are centred on
    128."""
    if samples.dtype == np.uint8:
        return (samples.astype(np.float64) - 128.0) / 128.0
    if samples.dtype.kind == "i":
        full_scale = float(1 << (8 * samples.dtype.itemsize - 1))
        return np.asarray(np.multiply(samples, 1.0 / full_scale, dtype=np.float64))
    return samples.astype(np.float64)


def loudest_channel(samples: NDArray[Any]) -> NDArray[Any]:
    """Return the loudest channel of ``(n,)`` or ``(n, channels)``, in its own dtype.

    The loudest, not the mean: a second channel that is empty would halve the level, and one that is
    wired the wrong way round would cancel the voice.

    Raises:
        ValueOutOfRange: neither one- nor two-dimensional.
    """
    if samples.ndim == 1:
        return samples
    if samples.ndim != 2:
        raise ValueOutOfRange(what="dimensions", value=samples.ndim, lowest=1, highest=2)
    if samples.shape[1] <= 1 or samples.shape[0] == 0:
        return samples.reshape(-1)
    block = 1 << 18  # In pieces, so that a long recording is not copied as a whole.
    power = np.zeros(samples.shape[1])
    for start in range(0, samples.shape[0], block):
        floats = as_floats(samples[start : start + block])
        power += np.sum((floats - floats.mean(axis=0)) ** 2, axis=0)
    return samples[:, int(np.argmax(power))]


def check_numbers(floats: FloatArray, *, from_sample: int, rate_hz: int) -> None:
    """Check that every sample is a finite number.

    Raises:
        DamagedRecording: a sample is not a finite number.
    """
    good = np.isfinite(floats)
    if not good.all():
        first = int(np.argmin(good)) + from_sample
        raise DamagedRecording(first_bad_s=first / rate_hz)
