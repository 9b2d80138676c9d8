"""The current hold of a live recording, for the live picture."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from math import nan

from ..middle import middle_of
from ..runs import Stretch, runs
from ..settings import HOLD_GAP_S, HOP_S
from ..track.frames import Frames
from .hissing import hissing_frames
from .stretches import held_stretches, sounding_frames

#: Shorter sounds are a cough or a test and do not end a take.
SHORTEST_S = 0.5
#: Minimum length of a word.
SHORTEST_WORD_S = 0.15
#: The last frames of an ongoing hold may not have a pitch yet.
SOUNDING_S = 0.06


class Listening(StrEnum):
    """The kind of sound to follow: one held voice, one hiss, or all sound from first to last."""

    HOLD = "hold"
    HISS = "hiss"
    ALL = "all"


@dataclass(frozen=True, slots=True)
class OngoingHold:
    """The hold that a live recording is in.

    Attributes:
        start_s: where it began, None while there is none.
        seconds: its length so far.
        has_ended: whether more than 400 ms without voice have followed.
        silent_s: how long it has been quiet since.
        median_hz: its pitch so far, NaN while there is none.
    """

    start_s: float | None
    seconds: float
    has_ended: bool
    silent_s: float
    median_hz: float = nan

    def grown(self, frames: int) -> OngoingHold:
        """Return an estimate until the next frame: sound continues, silence continues."""
        if self.start_s is None:
            return self
        grown = frames * HOP_S
        sounds = self.silent_s <= SOUNDING_S
        return OngoingHold(
            start_s=self.start_s,
            seconds=self.seconds + grown * sounds,
            has_ended=self.has_ended,
            silent_s=self.silent_s + grown * (not sounds),
            median_hz=self.median_hz,
        )

    @classmethod
    def none(cls) -> OngoingHold:
        """Return the state before any hold."""
        return cls(None, 0.0, False, 0.0)


def hold_so_far(frames: Frames, listening: Listening = Listening.HOLD) -> OngoingHold:
    """Return the longest hold so far, which would be saved if the recording ended now."""
    stretches = _stretches(frames, listening)
    if not stretches:
        return OngoingHold.none()
    if listening is Listening.ALL:
        start, end = stretches[0][0], stretches[-1][1]
    else:
        start, end = max(stretches, key=lambda stretch: stretch[1] - stretch[0])
    silent_s = (len(frames) - end) * HOP_S
    part = frames[start:end]
    pitch = part.pitch_hz[part.periodic]
    return OngoingHold(
        start_s=start * HOP_S,
        seconds=(end - start) * HOP_S,
        has_ended=silent_s > HOLD_GAP_S,
        silent_s=silent_s,
        median_hz=middle_of(pitch) if pitch.size else nan,
    )


def _stretches(frames: Frames, listening: Listening) -> list[Stretch]:
    if listening is Listening.HOLD:
        return held_stretches(frames, min_hold_s=SHORTEST_S)
    is_sound = hissing_frames(frames)
    least = round(SHORTEST_S / HOP_S)
    if listening is Listening.ALL:
        is_sound = is_sound | sounding_frames(frames)[0]
        least = round(SHORTEST_WORD_S / HOP_S)
    joined = runs(is_sound, joining=round(HOLD_GAP_S / HOP_S))
    return [stretch for stretch in joined if stretch[1] - stretch[0] >= least]
