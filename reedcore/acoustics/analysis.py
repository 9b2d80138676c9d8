"""A whole recording, measured."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from numpy.typing import NDArray

from reedcore.errors import EmptyRecording, RecordingTooLong

from .frames import Frames
from .holds import Hold, find_holds
from .live import LiveAnalyser
from .quality import Quality, quality_of
from .recording import check_rate, one_channel

#: An hour: far beyond any exercise, and a bound for the memory of the frames.
LONGEST_S = 3600.0


@dataclass(frozen=True, slots=True, eq=False)
class Analysis:
    """What was measured. Having found no voice is a measurement too.

    Attributes:
        holds: in order of time.
        frames: the track all of it rests on, one row every 10 ms.
    """

    sample_rate_hz: int
    duration_s: float
    quality: Quality
    holds: tuple[Hold, ...]
    frames: Frames

    @property
    def longest(self) -> Hold | None:
        """The longest hold: what a single try is judged by."""
        return max(self.holds, key=lambda hold: hold.duration_s, default=None)


def analyse(
    samples: NDArray[Any],
    rate_hz: int,
    *,
    target_hz: float | None = None,
    min_hold_s: float = 1.0,
    processed: bool = False,
) -> Analysis:
    """Measures a recording.

    Args:
        samples: shape ``(n,)`` or ``(n, channels)``; PCM integers, or floats with full scale at ±1.
            Of several channels the loudest is measured.
        rate_hz: 8–96 kHz.
        target_hz: the note that was asked for, if any.
        min_hold_s: shorter holds are not reported.
        processed: the recording device had changed the sound (echo, noise, gain): level is then
            not judged.

    Raises:
        EmptyRecording: no samples.
        RateOutOfRange, RecordingTooLong, DamagedRecording: as they say.
    """
    check_rate(rate_hz)
    if samples.size == 0:
        raise EmptyRecording()
    duration_s = samples.shape[0] / rate_hz
    if duration_s > LONGEST_S:
        raise RecordingTooLong(duration_s=duration_s, longest_s=LONGEST_S)
    live = LiveAnalyser(rate_hz)
    frames = Frames.joined([live.feed(one_channel(samples)), live.finish()])
    holds = find_holds(frames, target_hz=target_hz, min_hold_s=min_hold_s)
    quality = quality_of(frames, holds, sample_rate_hz=rate_hz, processed=processed)
    return Analysis(rate_hz, duration_s, quality, holds, frames)
