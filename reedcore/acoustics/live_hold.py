"""The hold that is sounding now, from the frames so far: what the live picture rests on."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import nan

import numpy as np

from .frames import Frames
from .settings import HOLD_GAP_S, HOP_S
from .stretches import held_stretches

#: Shorter sounds are a cough or a try-out and do not end a take.
SHORTEST_S = 0.5
#: The last frames of a hold that goes on may not have found their pitch yet.
SOUNDING_S = 0.06


@dataclass(frozen=True, slots=True)
class HoldSoFar:
    """Attributes:
    start_s: where it began, None while there is none.
    seconds: its length so far.
    ended: whether more than 400 ms without voice have followed.
    silent_s: how long it has been quiet since.
    median_hz: its pitch so far, NaN while there is none.
    """

    start_s: float | None
    seconds: float
    ended: bool
    silent_s: float
    median_hz: float = nan

    def grown(self, frames: int) -> HoldSoFar:
        """A guess until the next look: a voice that was sounding goes on, a silence too."""
        if self.start_s is None:
            return self
        if self.silent_s <= SOUNDING_S:
            return replace(self, seconds=self.seconds + frames * HOP_S)
        return replace(self, silent_s=self.silent_s + frames * HOP_S)

    @classmethod
    def none(cls) -> HoldSoFar:
        """Nothing has been held yet."""
        return cls(None, 0.0, False, 0.0)


def hold_so_far(frames: Frames) -> HoldSoFar:
    """The longest hold in the frames, the one that will be saved if it all ended here."""
    stretches = held_stretches(frames, min_hold_s=SHORTEST_S)
    if not stretches:
        return HoldSoFar.none()
    start, end = max(stretches, key=lambda stretch: stretch[1] - stretch[0])
    silent_s = (len(frames) - end) * HOP_S
    pitch = frames.pitch_hz[start:end]
    return HoldSoFar(
        start_s=start * HOP_S,
        seconds=(end - start) * HOP_S,
        ended=silent_s > HOLD_GAP_S,
        silent_s=silent_s,
        median_hz=float(np.nanmedian(pitch)),
    )
