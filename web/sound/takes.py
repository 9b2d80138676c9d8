"""A take on its way in: numbered chunks of sound, put together without a gap or a doubling.

Knows nothing of sockets, so that what a torn connection does to it can be tested by hand.
"""

import numpy as np

from reedcore.acoustics import Frames, LiveAnalyser
from reedcore.acoustics.live_hold import HoldSoFar, Listening, hold_so_far
from reedcore.acoustics.settings import HOP_S

#: Four bytes in front of each chunk: the number of its first sample.
HEADER = np.dtype("<u4")
SAMPLE = np.dtype("<i2")
#: Long enough for any hold; a forgotten open microphone ends here.
LONGEST_TAKE_S = 300
#: Silence that ends a take: nobody is there.
UNANSWERED_S = 60
#: How often the hold so far is looked at, in frames of 10 ms. While a voice sounds only its length
#: changes, which is known without looking; a look costs in proportion to the take.
LOOK_EVERY, LOOK_EVERY_SOUNDING = 25, 200
#: A longer take is looked at so often before it has doubled: then a second costs the same in all.
LOOKS_AT_A_LENGTH = 60
#: So many frames without a pitch, and it may be over.
UNSURE_FRAMES = 5


class BadChunk(ValueError):
    """Bytes that are not a chunk."""


class MissingSound(Exception):
    """A chunk that does not follow on what is here; ``wanted`` is the sample that is missing."""

    def __init__(self, wanted: int) -> None:
        super().__init__(f"sample {wanted} is missing")
        self.wanted = wanted


class Take:
    """The samples so far and the frames they gave."""

    def __init__(self, rate_hz: int, listening: Listening = Listening.HOLD) -> None:
        self.rate_hz = rate_hz
        self.listening = listening
        self._live = LiveAnalyser(rate_hz)
        self._chunks: list[np.ndarray] = []
        self._parts: list[Frames] = []
        self._count = 0
        self._newest = Frames.none()
        self._looked_at = 0
        self._quiet = 0
        self.samples_in = 0
        self.hold = HoldSoFar.none()

    def add(self, *messages: bytes) -> Frames:
        """The frames that these chunks complete. What was had already is passed over, and costs
        nothing.

        Raises:
            BadChunk: not a header and whole samples; the take is of no more use.
            MissingSound: there is a gap before one of them; those before it are taken in.
        """
        missing, fresh = None, []
        for message in messages:
            try:
                fresh.append(self._fresh(message))
            except MissingSound as gap:
                missing = gap
                break
        # a copy, for a view would keep the whole message
        samples = np.concatenate(fresh) if fresh else np.zeros(0, SAMPLE)
        frames = Frames.none()
        if samples.size:
            self._chunks.append(samples)
            frames = self._live.feed(samples)
            if len(frames):
                self._parts.append(frames)
                self._count, self._newest = self._count + len(frames), frames
                self._quiet = 0 if frames.periodic.any() else self._quiet + len(frames)
            self._look(len(frames))
        if missing is not None:
            raise missing
        return frames

    def _fresh(self, message: bytes) -> np.ndarray:
        """What of a chunk is new, within the length that a take may have."""
        size = len(message) - HEADER.itemsize
        if size < 0 or size % SAMPLE.itemsize:
            raise BadChunk(f"{len(message)} bytes")
        first = int(np.frombuffer(message, HEADER, 1)[0])
        samples = np.frombuffer(message, SAMPLE, offset=HEADER.itemsize)
        if first > self.samples_in:
            raise MissingSound(self.samples_in)
        fresh = samples[self.samples_in - first :]
        room = LONGEST_TAKE_S * self.rate_hz - self.samples_in
        fresh = fresh[: max(0, room)]
        self.samples_in += fresh.size
        return fresh

    @property
    def unanswered(self) -> bool:
        """Whether nobody has made a sound for so long that nobody is there."""
        return self._quiet * HOP_S >= UNANSWERED_S and self.hold.silent_s >= (
            UNANSWERED_S if self.hold.start_s is not None else 0.0
        )

    @property
    def full(self) -> bool:
        """Whether it is as long as a take may be."""
        return self.samples_in >= LONGEST_TAKE_S * self.rate_hz

    def samples(self) -> np.ndarray:
        """All of it."""
        return np.concatenate(self._chunks) if self._chunks else np.zeros(0, SAMPLE)

    def _look(self, fresh: int) -> None:
        count = self._count
        every = LOOK_EVERY
        if self._sounds_on():
            every = max(LOOK_EVERY_SOUNDING, count // LOOKS_AT_A_LENGTH)
        if count - self._looked_at < every:
            self.hold = self.hold.grown(fresh)
        else:
            self._looked_at = count
            self._parts = [Frames.joined(self._parts)]
            self.hold = hold_so_far(self._parts[0], self.listening)

    def _sounds_on(self) -> bool:
        """Whether a hold has begun and the newest frames still have a pitch."""
        if self.listening is not Listening.HOLD or self.hold.start_s is None or self.hold.ended:
            return False
        return bool(self._newest.periodic[-UNSURE_FRAMES:].any())
