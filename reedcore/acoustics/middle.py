"""Medians and quantiles for frequent use, without the checks of the library, which cost more than
the work."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray


def middle_of(values: NDArray[Any]) -> float:
    """Return the median of ``(n,)`` numbers, n ≥ 1, without NaN."""
    half = values.size // 2
    if values.size % 2:
        return float(np.partition(values, half)[half])
    parted = np.partition(values, (half - 1, half))
    return float(0.5 * (parted[half - 1] + parted[half]))


def shares_of(values: NDArray[Any], *shares: float) -> list[float]:
    """Return the quantiles at these shares (0–1) of ``(n,)`` numbers, n ≥ 1, linearly interpolated;
    no NaN."""
    places = [share * (values.size - 1) for share in shares]
    lows = [int(place) for place in places]
    highs = [min(low + 1, values.size - 1) for low in lows]
    parted = np.partition(values, sorted({*lows, *highs}))
    return [
        float(parted[low] + (parted[high] - parted[low]) * (place - low))
        for low, high, place in zip(lows, highs, places, strict=True)
    ]


def middles_of(rows: NDArray[Any]) -> NDArray[np.float64]:
    """Return the median of each row of ``(n, m)``, m ≥ 1, without NaN."""
    half = rows.shape[1] // 2
    if rows.shape[1] % 2:
        return np.asarray(np.partition(rows, half, axis=1)[:, half], dtype=np.float64)
    parted = np.partition(rows, (half - 1, half), axis=1)
    return np.asarray(0.5 * (parted[:, half - 1] + parted[:, half]), dtype=np.float64)
