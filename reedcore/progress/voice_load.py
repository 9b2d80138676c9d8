"""Voice load: for how long the folds vibrated, and how often."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

FRAME_S = 0.010


@dataclass(frozen=True, slots=True)
class VoiceLoad:
    """Adds up over tries, sessions and days.

    Attributes:
        voiced_s: seconds with a pitch.
        cycles: vibrations, Σ f0·dt.
    """

    voiced_s: float = 0.0
    cycles: float = 0.0

    def __add__(self, other: VoiceLoad) -> VoiceLoad:
        return VoiceLoad(self.voiced_s + other.voiced_s, self.cycles + other.cycles)


def voice_load_of(pitch_hz: NDArray[np.float64]) -> VoiceLoad:
    """Return the load of one try's frames: one pitch each 10 ms, NaN without."""
    voiced_hz = pitch_hz[np.isfinite(pitch_hz)]
    return VoiceLoad(voiced_hz.size * FRAME_S, float(voiced_hz.sum()) * FRAME_S)
