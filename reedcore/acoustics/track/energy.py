"""Energy of a stream at its own sampling rate, in steps of 5 ms, two to a frame."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..compiled import Loop
from .frames import Array

#: At or above this a sample counts as clipped: one step below full scale in 16 bits.
_FULL_SCALE = 1.0 - 2.0**-15
#: The counts in :data:`SUMMED`: samples, and completed steps.
SAMPLES, STEPS = 0, 1


def add_energy(
    raw: Array,
    clean: Array,
    per_step: float,
    counts: NDArray[np.int64],
    begun: Array,
    energy: Array,
    clipped: Array,
) -> None:
    """Sum original samples (for clipping) and samples without rumble (for energy) into rows of
    frames.

    A step begins at the sample nearest to its time, for 5 ms are no whole number of samples at
    every rate.

    Args:
        per_step: samples of a step.
        counts: samples and whole steps before these, and then with them.
        begun: of what is not whole: sum of squares of the step, clipped samples of the frame.
        energy: mean square of each step, ``(frames, 2)``.
        clipped: share of each frame.
    """
    first = int(np.rint(counts[STEPS] * per_step))
    edge = int(np.rint((counts[STEPS] + 1) * per_step))
    whole, lost = begun[0], begun[1]
    at = 0
    while at < raw.size:
        until = min(raw.size, at + edge - counts[SAMPLES])
        for each in range(at, until):
            whole += clean[each] * clean[each]
            if abs(raw[each]) >= _FULL_SCALE:
                lost += 1.0
        counts[SAMPLES] += until - at
        at = until
        if counts[SAMPLES] < edge:
            break
        row, half = counts[STEPS] // 2, counts[STEPS] % 2
        energy[row, half] = whole / (edge - first)
        whole = 0.0
        if half == 1:
            begins = int(np.rint((counts[STEPS] - 1) * per_step))
            clipped[row] = lost / (edge - begins)
            lost = 0.0
        counts[STEPS] += 1
        first = edge
        edge = int(np.rint((counts[STEPS] + 1) * per_step))
    begun[0], begun[1] = whole, lost


SUMMED = Loop(add_energy, in_order=True)
