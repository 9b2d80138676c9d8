"""The track: one row of plain figures for every 10 ms of sound."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace

import numpy as np
from numpy.typing import NDArray

from ..settings import HOP_S

Array = NDArray[np.float64]
#: This many wide bands distinguish the sounds of speech.
BANDS = 6


@dataclass(frozen=True, slots=True, eq=False)
class Frames:
    """Arrays of one length; frame k covers the 10 ms from ``k·0.01`` s on.

    Attributes:
        pitch_hz: NaN exactly where no pitch was found.
        strength: height of the correlation peak at that pitch, 0–1; 0 without a pitch.
        energy: mean square of each half of the frame (5 ms), shape ``(n, 2)``; full scale is 1.
        voice_band: the same of 50–1500 Hz alone.
        hiss_share: share of the energy that lies above 2 kHz, 0–1.
        top_share: share that lies above 4 kHz, 0–1.
        clipped: share of the frame's samples at full scale.
        bands: energy in six wide bands, shape ``(n, 6)``, in no unit: compared with each other.
    """

    pitch_hz: Array
    strength: Array
    energy: Array
    voice_band: Array
    hiss_share: Array
    top_share: Array
    clipped: Array
    bands: Array

    def __len__(self) -> int:
        return len(self.pitch_hz)

    @property
    def periodic(self) -> NDArray[np.bool_]:
        """Return where a pitch was found."""
        return ~np.isnan(self.pitch_hz)

    @property
    def level_dbfs(self) -> Array:
        """Return the level of each frame, full band; −inf for digital silence."""
        return dbfs(_pair_mean(self.energy))

    @property
    def voice_band_dbfs(self) -> Array:
        """Return the level of 50–1500 Hz over the 20 ms around each frame: short, but at least one
        period of the lowest voice."""
        mean = _pair_mean(self.voice_band)
        if len(mean) == 0:
            return mean
        half_before = np.concatenate([self.voice_band[:1, 0], self.voice_band[:-1, 1]])
        half_after = np.concatenate([self.voice_band[1:, 0], self.voice_band[-1:, 1]])
        return dbfs(0.5 * mean + 0.25 * (half_before + half_after))

    @classmethod
    def none(cls) -> Frames:
        """Return an empty set of frames."""
        return _NONE

    @classmethod
    def join(cls, parts: list[Frames]) -> Frames:
        """Return the parts, one after the other."""
        parts = [part for part in parts if len(part)]
        if len(parts) <= 1:
            return parts[0] if parts else cls.none()
        return cls(*(np.concatenate([getattr(part, name) for part in parts]) for name in _NAMES))

    def with_silence(self, start_s: float, end_s: float) -> Frames:
        """Return the frames with silence between two times, within the reach of a window."""
        first = max(0, int(start_s / HOP_S) - 3)
        last = int(np.ceil(end_s / HOP_S)) + 3
        pitch, strength = self.pitch_hz.copy(), self.strength.copy()
        pitch[first:last], strength[first:last] = np.nan, 0.0
        shares = self.hiss_share.copy()
        shares[first:last] = 0.0
        quiet = [self.energy.copy(), self.voice_band.copy()]
        for pairs in quiet:
            outside = np.delete(pairs, slice(first, last), axis=0)
            pairs[first:last] = np.percentile(outside, 10) if outside.size else 0.0
        return replace(
            self,
            pitch_hz=pitch,
            strength=strength,
            energy=quiet[0],
            voice_band=quiet[1],
            hiss_share=shares,
        )

    def __getitem__(self, part: slice) -> Frames:
        return type(self)(*(getattr(self, name)[part] for name in _NAMES))


_NAMES = tuple(field.name for field in fields(Frames))
_EMPTY, _EMPTY_PAIRS = np.zeros(0), np.zeros((0, 2))
_NONE = Frames(
    _EMPTY, _EMPTY, _EMPTY_PAIRS, _EMPTY_PAIRS, _EMPTY, _EMPTY, _EMPTY, np.zeros((0, BANDS))
)


def _pair_mean(pairs: Array) -> Array:
    return np.asarray(0.5 * (pairs[:, 0] + pairs[:, 1]), dtype=np.float64)


def dbfs(mean_square: Array) -> Array:
    """Return the level of a mean square; a full-scale sine is 0 dBFS, silence is −inf."""
    with np.errstate(divide="ignore"):
        return 10.0 * np.log10(2.0 * mean_square)
