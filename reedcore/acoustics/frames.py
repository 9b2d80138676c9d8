"""The track: one row of plain figures for every 10 ms of sound."""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

from .settings import HOP_S

Array = NDArray[np.float64]


@dataclass(frozen=True, slots=True, eq=False)
class Frames:
    """Arrays of one length; frame k covers the 10 ms from ``k·0.01`` s on.

    Attributes:
        pitch_hz: NaN exactly where no pitch was found.
        strength: height of the correlation peak at that pitch, 0–1; 0 without a pitch.
        energy: mean square of each half of the frame (5 ms), shape ``(n, 2)``; full scale is 1.
        voice_band_dbfs: level of 50–1500 Hz.
        hiss_share: share of the energy that lies above 2 kHz, 0–1.
        top_share: share that lies above 4 kHz, 0–1.
        clipped: share of the frame's samples at full scale.
    """

    pitch_hz: Array
    strength: Array
    energy: Array
    voice_band_dbfs: Array
    hiss_share: Array
    top_share: Array
    clipped: Array

    def __len__(self) -> int:
        return len(self.pitch_hz)

    @property
    def start_s(self) -> Array:
        """Where each frame begins."""
        return np.arange(len(self)) * HOP_S

    @property
    def periodic(self) -> NDArray[np.bool_]:
        """Where a pitch was found."""
        return ~np.isnan(self.pitch_hz)

    @property
    def level_dbfs(self) -> Array:
        """Level of each frame, full band; −inf for digital silence."""
        return dbfs(np.mean(self.energy, axis=1, dtype=np.float64))

    @classmethod
    def none(cls) -> Frames:
        """No frames at all."""
        empty = np.zeros(0)
        return cls(empty, empty, np.zeros((0, 2)), empty, empty, empty, empty)

    @classmethod
    def joined(cls, parts: list[Frames]) -> Frames:
        """The parts, one after the other."""
        if not parts:
            return cls.none()
        return cls(
            *(np.concatenate([getattr(part, f.name) for part in parts]) for f in fields(cls))
        )

    def __getitem__(self, part: slice) -> Frames:
        return type(self)(*(getattr(self, f.name)[part] for f in fields(self)))


def dbfs(mean_square: Array) -> Array:
    """Level of a mean square; 0 dBFS is that of a full-scale sine, −inf that of nothing."""
    with np.errstate(divide="ignore"):
        return 10.0 * np.log10(2.0 * mean_square)
