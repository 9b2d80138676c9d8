"""Find where a voice ends in a room that keeps sounding."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..middle import middles_of
from ..settings import HOP_S
from ..track.frames import Frames

#: The level before a moment is averaged over this long, without the last part.
BEFORE_S, SPARED = 0.5, 3
#: Once the level stays this far below, the voice has ended.
KNEE_DB = 6.0
#: A room decays much faster than a fading voice; shorter tails belong to the voice.
LEAST_DB_PER_S, LEAST_FALL_DB, SHORTEST_S = 62.0, 14.0, 0.08
#: A room decays evenly or ever more slowly, because the voice itself stops in the first frames (0.2
#: to 1.0). A voice released over 0.6 s or more falls ever faster (2.5), but never this fast.
STEEPENS, RELEASED_DB_PER_S = 1.6, 90.0
#: A sudden stop followed by a slower decay is a room, down to this rate.
STOPS, STOPPED_DB_PER_S = 0.5, 45.0
#: At this rate it can be either.
UNSURE_DB_PER_S = 35.0


@dataclass(frozen=True, slots=True)
class Tail:
    """The last fall of a hold.

    Attributes:
        knee: the frame after it.
        steepens: its second half's fall over its first half's.
    """

    knee: int
    seconds: float
    db_per_s: float
    steepens: float

    @property
    def is_echo(self) -> bool:
        """Return whether the fall is room reverberation, not the voice."""
        stopped = self.steepens < STOPS and self.db_per_s >= STOPPED_DB_PER_S
        released = self.steepens >= STEEPENS and self.db_per_s < RELEASED_DB_PER_S
        return stopped or (self.db_per_s >= LEAST_DB_PER_S and not released)


def trim_echo(frames: Frames, start: int, end: int) -> int:
    """Return the end of a hold without the tail that its room adds: at the knee of a steep last
    fall."""
    tail = _tail(frames, start, end)
    return tail.knee if tail and tail.is_echo else end


def unsure_tail_s(frames: Frames, start: int, end: int) -> float:
    """Return how much of a hold's end may be its voice fading or its room: 0 where that
    is clear."""
    tail = _tail(frames, start, end)
    return tail.seconds if tail and tail.db_per_s >= UNSURE_DB_PER_S else 0.0


def _tail(frames: Frames, start: int, end: int) -> Tail | None:
    """Return the last fall of the level; None if there is none, or one like a released voice."""
    reach = round(BEFORE_S / HOP_S)
    first = max(start, end - 4 * reach)
    levels = frames.voice_band_dbfs[first:end]
    if len(levels) < 2 * reach:
        return None
    # Over five frames, so that dips of a trill are not taken for its end.
    power = np.convolve(10.0 ** (levels / 10.0), np.ones(5) / 5, mode="same")
    levels = 10.0 * np.log10(power + 1e-20)
    windows = np.lib.stride_tricks.sliding_window_view(levels, reach)
    usual = middles_of(windows[: len(levels) - reach - SPARED])
    places = np.arange(reach + SPARED, len(levels))
    over = np.flatnonzero(levels[places] >= usual - KNEE_DB)
    if not over.size:
        return None
    knee = int(places[over[-1]])
    seconds = (len(levels) - 1 - knee) * HOP_S
    fall = float(levels[knee] - levels[-3])
    if seconds < SHORTEST_S or fall < LEAST_FALL_DB:
        return None
    middle = levels[(knee + len(levels) - 3) // 2]
    steepens = float((middle - levels[-3]) / max(levels[knee] - middle, 0.1))
    return Tail(first + knee + 1, seconds, fall / seconds, steepens)
