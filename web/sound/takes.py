"""A take on its way in: numbered chunks of sound, put together without a gap or a doubling.

Knows nothing of sockets, so that what a torn connection does to it can be tested by hand.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import inf

import numpy as np

from reedcore.acoustics import Frames, LiveAnalyser
from reedcore.acoustics.holds.live_hold import (
    SOUNDING_S,
    Listening,
    OngoingHold,
    hold_so_far,
)
from reedcore.acoustics.live import feed_all
from reedcore.acoustics.settings import HOLD_GAP_S, HOP_S

#: Header of each chunk: the index of its first sample, four bytes.
HEADER = np.dtype("<u4")
SAMPLE = np.dtype("<i2")
#: Longer than any hold; limits a microphone left open.
LONGEST_TAKE_S = 300
#: Silence that ends a take.
UNANSWERED_S = 60
#: How often the current hold is measured, in frames of 10 ms. Between measurements only its length
#: grows.
LOOK_EVERY, LOOK_EVERY_SOUNDING = 25, 300
#: Voiced frames before the first measurement, and before another one after a failed measurement.
FIRST_HEARD, MORE_HEARD = 60, 20
#: Other kinds can end at any time: measure this often until the take has doubled.
LOOKS_AT_A_LENGTH = 240
#: Unvoiced frames after which a hold may be over.
UNSURE_FRAMES = 5


class BadChunk(ValueError):
    """Bytes that are not a chunk."""


class MissingSound(Exception):
    """A chunk does not continue the sound so far; ``wanted`` is the first missing sample."""

    def __init__(self, expected: int) -> None:
        super().__init__(f"sample {expected} is missing")
        self.expected = expected


class Take:
    """The samples so far and their frames."""

    def __init__(self, rate_hz: int, listening: Listening = Listening.HOLD) -> None:
        self.rate_hz = rate_hz
        self.listening = listening
        self._live = LiveAnalyser(rate_hz)
        self._chunks: list[np.ndarray] = []
        self._count = 0
        self._newest = Frames.none()
        self._looked_at = 0
        self._still_to_hear = FIRST_HEARD
        self._over_after = 0
        self._quiet = 0
        self.samples_in = 0
        self.hold = OngoingHold.none()

    def add(self, *messages: bytes) -> Frames:
        """Return the frames that these chunks complete. Samples received before are skipped at no
        cost.

        Raises:
            BadChunk: not a header and whole samples; the take is of no more use.
            MissingSound: there is a gap before one of them; those before it are taken in.
        """
        (added,) = add_all([(self, messages)])
        if added.trouble is not None:
            raise added.trouble
        return added.frames

    def _accept_chunks(self, messages: Sequence[bytes]) -> tuple[np.ndarray, MissingSound | None]:
        """Return the new parts of the chunks, up to the first gap."""
        missing, fresh = None, []
        for message in messages:
            try:
                fresh.append(self._fresh(message))
            except MissingSound as gap:
                missing = gap
                break
        # Copy: a view would keep the whole message in memory.
        samples = np.concatenate(fresh) if fresh else np.zeros(0, SAMPLE)
        if samples.size:
            self._chunks.append(samples)
        return samples, missing

    def _measure_frames(self, frames: Frames) -> None:
        """Add these frames."""
        if not len(frames):
            return
        self._count, self._newest = self._count + len(frames), frames
        voiced_frames = int(np.count_nonzero(frames.periodic))
        self._still_to_hear -= voiced_frames
        self._quiet = 0 if voiced_frames else self._quiet + len(frames)
        self._look(len(frames))

    def _fresh(self, message: bytes) -> np.ndarray:
        """Return the new part of a chunk, within the maximum length of a take."""
        size = len(message) - HEADER.itemsize
        if size < 0 or size % SAMPLE.itemsize:
            raise BadChunk(f"{len(message)} bytes")
        first = int.from_bytes(message[: HEADER.itemsize], "little")
        samples = np.frombuffer(message, SAMPLE, offset=HEADER.itemsize)
        if first > self.samples_in:
            raise MissingSound(self.samples_in)
        fresh = samples[self.samples_in - first :]
        room = LONGEST_TAKE_S * self.rate_hz - self.samples_in
        fresh = fresh[: max(0, room)]
        self.samples_in += fresh.size
        return fresh

    @property
    def is_unanswered(self) -> bool:
        """Return whether the take was silent for so long that the client must have left."""
        return self._quiet * HOP_S >= UNANSWERED_S and self.hold.silent_s >= (
            UNANSWERED_S if self.hold.start_s is not None else 0.0
        )

    @property
    def is_full(self) -> bool:
        """Return whether it is as long as a take may be."""
        return self.samples_in >= LONGEST_TAKE_S * self.rate_hz

    def samples(self) -> np.ndarray:
        """Return all of it."""
        return np.concatenate(self._chunks) if self._chunks else np.zeros(0, SAMPLE)

    def _look(self, fresh: int) -> None:
        if self._count - self._looked_at < self._next_look():
            self.hold = self.hold.grown(fresh)
            return
        self._looked_at = self._count
        self.hold = hold_so_far(self._live.frames, self.listening)
        self._still_to_hear = MORE_HEARD if self.hold.start_s is None else FIRST_HEARD
        self._over_after = round((HOLD_GAP_S - self.hold.silent_s) / HOP_S) + UNSURE_FRAMES

    def _next_look(self) -> float:
        """Return how many frames after the last one."""
        if self.listening is not Listening.HOLD:
            return max(LOOK_EVERY, self._looked_at // LOOKS_AT_A_LENGTH)
        sounds = self.hold.start_s is not None and not self.hold.has_ended
        if not sounds:
            return LOOK_EVERY if self._still_to_hear <= 0 else inf
        # A measurement costs time in proportion to the take, so measure when the take has doubled:
        # the cost per second stays constant.
        if self._newest.periodic[-UNSURE_FRAMES:].any():
            return max(LOOK_EVERY_SOUNDING, self._looked_at)
        # Possibly over: measure once more when the silence is long enough.
        return LOOK_EVERY if self.hold.silent_s <= SOUNDING_S else self._over_after


@dataclass(frozen=True, slots=True)
class ChunkResult:
    """The state of the chunks of one take.

    Attributes:
        frames: those that they completed.
        trouble: why not all were taken in.
    """

    frames: Frames
    trouble: MissingSound | BadChunk | None


def add_all(added: Sequence[tuple[Take, Sequence[bytes]]]) -> list[ChunkResult]:
    """Return the frames of chunks of several takes, measured together, which costs less (see
    :meth:`Take.add`)."""
    results = [ChunkResult(Frames.none(), None)] * len(added)
    fed = []
    for place, (take, messages) in enumerate(added):
        try:
            samples, missing = take._accept_chunks(messages)
        except BadChunk as bad:
            results[place] = ChunkResult(Frames.none(), bad)
            continue
        results[place] = ChunkResult(Frames.none(), missing)
        if samples.size:
            fed.append((place, take, samples))
    measured = feed_all([(take._live, samples) for _, take, samples in fed])
    for (place, take, _), frames in zip(fed, measured, strict=True):
        take._measure_frames(frames)
        results[place] = replace(results[place], frames=frames)
    return results
