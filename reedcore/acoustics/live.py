"""Sound that is still coming in, as frames.

The whole recording goes this way too (see :mod:`reedcore.acoustics.analysis`), which is why what a
client saw live and what is saved agree; and so do many takes at once, whose windows are looked at
together.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

from .settings import FFT_SIZE
from .track.frames import Frames
from .track.intake import Intake
from .track.periodicity import BLOCK, TAPER, TOGETHER, spectra_of
from .track.recording import as_floats, check_numbers, check_rate
from .track.rows import Track
from .track.tracker import PitchTracker

#: Samples processed at once: bounds the memory for a long recording.
_PIECE = 1 << 17
#: Gather small chunks to this size, because each round has a fixed cost. With the tracker's look-
#: ahead, a frame still appears within 60 ms of its last sample.
GATHERED_S = 0.035


class LiveAnalyser:
    """Turns chunks of mono samples into :class:`Frames`, a few tens of milliseconds late.

    Args:
        rate_hz: sampling rate, 8–96 kHz.
        keep_sound: whether to keep the sound at 16 kHz for :meth:`sound` (4 bytes a sample).

    Raises:
        RateOutOfRange: another rate.
    """

    def __init__(self, rate_hz: int, *, keep_sound: bool = False) -> None:
        self.rate_hz = check_rate(rate_hz)
        self._track = Track()
        self._intake = Intake(rate_hz, self._track, keep_sound=keep_sound)
        self._tracker = PitchTracker(self._track)
        self._pending: list[NDArray[Any]] = []
        self._pending_count = 0
        self._gathered = round(GATHERED_S * rate_hz)
        self._samples_in = 0

    @property
    def frames(self) -> Frames:
        """Return all frames so far."""
        return self._track.frames()

    def sound(self) -> NDArray[np.float32]:
        """Return the sound so far without rumble at 16 kHz, if it was kept."""
        return self._intake.sound()

    def feed(self, samples: NDArray[Any]) -> Frames:
        """Return the frames that these samples complete (often none, for a small chunk).

        Args:
            samples: shape ``(n,)``, PCM integers or floats with full scale at ±1.

        Raises:
            DamagedRecording: a sample is not a number.
        """
        return feed_all([(self, samples)])[0]

    def finish(self) -> Frames:
        """Return the last frames, as if silence followed. Feed nothing afterwards."""
        before = self._track.decided
        if self._pending:
            self._add_samples(self._buffered_samples())
        self._intake.finish()
        _process_windows([self])
        self._tracker.finish()
        return self._track.frames(before)

    def _take_buffered(self, samples: NDArray[Any]) -> NDArray[Any]:
        """Return the samples to process now; none while there are too few."""
        if not self._pending and len(samples) >= self._gathered:
            return samples
        self._pending.append(samples)
        self._pending_count += len(samples)
        return samples[:0] if self._pending_count < self._gathered else self._buffered_samples()

    def _buffered_samples(self) -> NDArray[Any]:
        pending, self._pending, self._pending_count = self._pending, [], 0
        return np.concatenate(pending)

    def _add_samples(self, samples: NDArray[Any]) -> None:
        self._intake.make_room(len(samples))
        for at in range(0, len(samples), _PIECE):
            floats = as_floats(samples[at : at + _PIECE])
            if samples.dtype.kind == "f":
                check_numbers(floats, from_sample=self._samples_in, rate_hz=self.rate_hz)
            self._samples_in += floats.size
            self._intake.add(floats)
            if len(samples) > _PIECE:
                _process_windows([self])


def feed_all(fed: Sequence[tuple[LiveAnalyser, NDArray[Any]]]) -> list[Frames]:
    """Return the results of :meth:`LiveAnalyser.feed` for several analysers, whose windows are
    processed together, which costs less per analyser.

    Raises:
        DamagedRecording: a sample is not a number, which no integer is.
    """
    before = [each._track.decided for each, _ in fed]
    for each, samples in fed:
        each._add_samples(each._take_buffered(samples))
    _process_windows([each for each, _ in fed])
    return [each._track.frames(first) for (each, _), first in zip(fed, before, strict=True)]


def _process_windows(several: Sequence[LiveAnalyser]) -> None:
    """Process every complete window, one block at a time."""
    ready = [each._intake.ready for each in several]
    if not any(ready):
        return
    rows = min(-(-sum(ready) // TOGETHER) * TOGETHER, BLOCK)
    block = np.zeros((rows, FFT_SIZE), np.float32)
    filled = 0
    parts: list[tuple[LiveAnalyser, slice]] = []
    for each, left in zip(several, ready, strict=True):
        while count := min(left, rows - filled):
            part = slice(filled, filled + count)
            each._intake.windows(block[part], TAPER)
            parts.append((each, part))
            filled, left = filled + count, left - count
            if filled == rows:
                _enter(block, parts)
                filled, parts = 0, []
    _enter(block[: -(-filled // TOGETHER) * TOGETHER], parts)


def _enter(block: NDArray[np.float32], parts: Sequence[tuple[LiveAnalyser, slice]]) -> None:
    """Enter the results of a block of windows into the tracks they belong to."""
    if not parts:
        return
    spectra = spectra_of(block)
    for each, part in parts:
        each._tracker.feed(spectra, part)
