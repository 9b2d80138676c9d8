"""Energy of a stream at its own sampling rate, in steps of 5 ms, two to a frame."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from .frames import Array
from .settings import ENERGY_STEP_S, ENERGY_STEPS_PER_HOP

#: At or beyond this a sample counts as clipped: one step short of full scale in 16 bits.
_FULL_SCALE = 1.0 - 2.0**-15


class EnergyMeter:
    """Holds what has come in until a whole frame's share of it is asked for."""

    def __init__(self, rate_hz: int) -> None:
        self._rate_hz = rate_hz
        self._power = np.zeros(0)
        self._clipped = np.zeros(0)
        self._steps_out = 0

    def add(self, raw: Array, clean: Array) -> None:
        """Samples as they came (for clipping) and without rumble (for energy)."""
        self._power = np.concatenate([self._power, clean**2])
        self._clipped = np.concatenate([self._clipped, (np.abs(raw) >= _FULL_SCALE).astype(float)])

    @property
    def frames_ready(self) -> int:
        """How many whole frames are held."""
        seen = self._edge(self._steps_out) + self._power.size
        frames = int(seen / self._rate_hz / (ENERGY_STEP_S * ENERGY_STEPS_PER_HOP) + 1e-9)
        # where 5 ms are no whole number of samples, a rounded edge may lie one sample further on
        if self._edge(frames * ENERGY_STEPS_PER_HOP) > seen:
            frames -= 1
        return frames - self._steps_out // ENERGY_STEPS_PER_HOP

    def take(self, count: int) -> tuple[Array, Array]:
        """Mean square of each 5 ms, ``(count, 2)``, and clipped share of each 10 ms."""
        steps = np.arange(self._steps_out, self._steps_out + count * ENERGY_STEPS_PER_HOP + 1)
        edges = self._edges(steps) - self._edge(self._steps_out)
        used = int(edges[-1])
        self._steps_out = int(steps[-1])
        power, self._power = self._power[:used], self._power[used:]
        clipped, self._clipped = self._clipped[:used], self._clipped[used:]
        if count == 0:
            return np.zeros((0, ENERGY_STEPS_PER_HOP)), np.zeros(0)
        energy = np.add.reduceat(power, edges[:-1]) / np.diff(edges)
        frame_edges = edges[::ENERGY_STEPS_PER_HOP]
        share = np.add.reduceat(clipped, frame_edges[:-1]) / np.diff(frame_edges)
        return energy.reshape(count, ENERGY_STEPS_PER_HOP), share

    def _edge(self, step: int) -> int:
        """The sample at which a step begins, counted from the first ever."""
        return round(step * ENERGY_STEP_S * self._rate_hz)

    def _edges(self, steps: NDArray[np.int64]) -> NDArray[np.int64]:
        edges: NDArray[np.int64] = np.rint(steps * ENERGY_STEP_S * self._rate_hz).astype(np.int64)
        return edges
