"""Short bursts of sound one after another: pulses on /s/ or /z/, four strong "sh" and the like."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import scipy

from ..runs import runs
from ..settings import HOP_S
from ..track.frames import Frames

#: Minimum level of a burst above the room, dB.
OUT_OF_ROOM_DB = 12.0
#: Shares of the range from the room to the loudest: a burst starts above the first and ends below
#: the second (conventions; two thresholds, so that an unsteady edge counts once).
BEGINS_AT, ENDS_AT = 0.6, 0.4
#: Shorter sounds are clicks; shorter dips do not separate two bursts, seconds.
SHORTEST_S, PARTS_S = 0.03, 0.05
#: Longer sounds are held, not pulses, seconds.
LONGEST_PULSE_S = 0.8
_SMOOTHED = 3


@dataclass(frozen=True, slots=True)
class Bursts:
    """The short sounds of a recording, one after another.

    Attributes:
        spans_s: (start, end) of each, in order.
    """

    spans_s: tuple[tuple[float, float], ...]

    @property
    def pulses(self) -> tuple[tuple[float, float], ...]:
        """Return the short bursts."""
        return tuple(each for each in self.spans_s if each[1] - each[0] <= LONGEST_PULSE_S)

    @property
    def interval_s(self) -> float | None:
        """Return the mean interval between the starts of pulses; None for fewer than two."""
        gaps = self._intervals()
        return float(np.mean(gaps)) if gaps else None

    @property
    def unevenness(self) -> float | None:
        """Return the coefficient of variation (n − 1) of the intervals; None for fewer than three
        pulses."""
        gaps = self._intervals()
        if len(gaps) < 2:
            return None
        return float(np.std(gaps, ddof=1) / np.mean(gaps))

    def _intervals(self) -> list[float]:
        return [later[0] - sooner[0] for sooner, later in pairwise(self.pulses)]


def bursts_of(frames: Frames) -> Bursts:
    """Return the bursts of a recording, voiced or not; empty if nothing is above the room."""
    level = frames.level_dbfs
    known = level[np.isfinite(level)]
    if known.size < _SMOOTHED:
        return Bursts(())
    level = np.where(np.isfinite(level), level, known.min())
    smooth = scipy.ndimage.uniform_filter1d(level, _SMOOTHED, mode="nearest")
    room, loudest = (float(np.percentile(smooth, share)) for share in (5, 98))
    if loudest - room < OUT_OF_ROOM_DB:
        return Bursts(())
    begins = room + BEGINS_AT * (loudest - room)
    ends = room + ENDS_AT * (loudest - room)
    spans = [
        (start, end) for start, end in runs(smooth > ends) if (smooth[start:end] > begins).any()
    ]
    joined: list[tuple[int, int]] = []
    for start, end in spans:
        if joined and (start - joined[-1][1]) * HOP_S < PARTS_S:
            joined[-1] = (joined[-1][0], end)
        else:
            joined.append((start, end))
    return Bursts(
        tuple(
            (start * HOP_S, end * HOP_S)
            for start, end in joined
            if (end - start) * HOP_S >= SHORTEST_S
        )
    )
