"""Stretches of a mask."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Mask = NDArray[np.bool_]
Stretch = tuple[int, int]


def runs(mask: Mask, *, joining: int = 1) -> list[Stretch]:
    """Return stretches of True as (first, after last); gaps shorter than ``joining`` are
    bridged."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], mask, [False]]).astype(np.int8)))
    found: list[Stretch] = []
    for start, end in edges.reshape(-1, 2).tolist():
        if found and start - found[-1][1] < joining:
            found[-1] = (found[-1][0], end)
        else:
            found.append((start, end))
    return found
