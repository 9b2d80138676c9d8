"""Energy of a stream at its own sampling rate, in steps of 5 ms, two to a frame."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .compiled import Loop
from .frames import Array
from .settings import ENERGY_STEP_S, ENERGY_STEPS_PER_HOP

#: At or beyond this a sample counts as clipped: one step short of full scale in 16 bits.
_FULL_SCALE = 1.0 - 2.0**-15


class EnergyMeter:
    """Holds what has come in until a whole frame's share of it is asked for."""

    def __init__(self, rate_hz: int) -> None:
        self._per_step = rate_hz * ENERGY_STEP_S
        #: Samples seen, and steps that are whole.
        self._counts = np.zeros(2, np.int64)
        #: Of the step that is not whole: sum of squares, and how many samples were clipped.
        self._begun = np.zeros(2)
        self._steps = np.zeros((0, 3))

    def add(self, raw: Array, clean: Array) -> None:
        """Samples as they came (for clipping) and without rumble (for energy)."""
        room = int(raw.size / self._per_step) + 2
        fresh = np.empty((room, 3))
        count = _SUMMED(raw, clean, self._per_step, self._counts, self._begun, fresh)
        self._steps = np.concatenate([self._steps, fresh[:count]])

    @property
    def frames_ready(self) -> int:
        """How many whole frames are held."""
        return len(self._steps) // ENERGY_STEPS_PER_HOP

    def take(self, count: int) -> tuple[Array, Array]:
        """Mean square of each 5 ms, ``(count, 2)``, and clipped share of each 10 ms."""
        used = count * ENERGY_STEPS_PER_HOP
        taken, self._steps = self._steps[:used], self._steps[used:]
        power, clipped, size = taken.T.reshape(3, count, ENERGY_STEPS_PER_HOP)
        return power / size, clipped.sum(axis=1) / size.sum(axis=1)


def _summed(
    raw: Array,
    clean: Array,
    per_step: float,
    counts: NDArray[np.int64],
    begun: Array,
    out: Array,
) -> int:
    """Sum of squares, clipped samples and samples of each step that is now whole; how many are.

    A step begins at the sample nearest to its time, for 5 ms are no whole number of samples at
    every rate.
    """
    made = 0
    first = int(np.rint(counts[1] * per_step))
    edge = int(np.rint((counts[1] + 1) * per_step))
    for at in range(raw.size):
        begun[0] += clean[at] * clean[at]
        if abs(raw[at]) >= _FULL_SCALE:
            begun[1] += 1.0
        counts[0] += 1
        if counts[0] == edge:
            out[made, 0], out[made, 1], out[made, 2] = begun[0], begun[1], edge - first
            made += 1
            counts[1] += 1
            begun[0], begun[1] = 0.0, 0.0
            first = edge
            edge = int(np.rint((counts[1] + 1) * per_step))
    return made


_SUMMED = Loop(_summed)
