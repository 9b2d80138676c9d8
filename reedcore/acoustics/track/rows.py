"""The rows of the frames of one sound, as they are filled."""

from __future__ import annotations

import numpy as np

from .frames import BANDS, Frames

#: Rows that a short take fits into without growing.
_FIRST_ROOM = 1024


class Track:
    """Columns with room to grow; decided rows are read without a copy.

    Attributes:
        pitch_hz, strength, energy, voice_band, hiss_share, top_share, clipped, bands: as those of
            :class:`Frames`, with rows to come behind them.
        decided: rows whose pitch is known.
    """

    def __init__(self) -> None:
        self.decided = 0
        self.pitch_hz, self.strength = np.zeros(_FIRST_ROOM), np.zeros(_FIRST_ROOM)
        self.energy, self.voice_band = np.zeros((_FIRST_ROOM, 2)), np.zeros((_FIRST_ROOM, 2))
        self.hiss_share, self.top_share = np.zeros(_FIRST_ROOM), np.zeros(_FIRST_ROOM)
        self.clipped, self.bands = np.zeros(_FIRST_ROOM), np.zeros((_FIRST_ROOM, BANDS))

    def make_room(self, rows: int) -> None:
        """Make room for this many rows in all."""
        if rows <= len(self.pitch_hz):
            return
        room = max(rows, 2 * len(self.pitch_hz))
        for name in Frames.__dataclass_fields__:
            held = getattr(self, name)
            grown = np.zeros((room, *held.shape[1:]))
            grown[: len(held)] = held
            setattr(self, name, grown)

    def frames(self, first: int = 0) -> Frames:
        """Return the decided frames from a row on."""
        part = slice(first, self.decided)
        return Frames(
            self.pitch_hz[part], self.strength[part], self.energy[part], self.voice_band[part],
            self.hiss_share[part], self.top_share[part], self.clipped[part], self.bands[part],
        )  # fmt: skip
