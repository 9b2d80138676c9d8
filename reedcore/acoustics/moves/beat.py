"""A start against a beat: how early or late."""

from __future__ import annotations

from dataclasses import dataclass

from reedcore.errors import ValueOutOfRange


@dataclass(frozen=True, slots=True)
class BeatOffset:
    """Late is positive."""

    ms: float
    beats: float


def against_beat(*, start_s: float, beat_s: float, beats_per_minute: float) -> BeatOffset:
    """Return how far after its beat a sound started.

    Args:
        start_s, beat_s: the sound's start and its beat, on one clock.

    Raises:
        ValueOutOfRange: a tempo outside 20–300 beats a minute.
    """
    if not 20 <= beats_per_minute <= 300:
        raise ValueOutOfRange(what="beats a minute", value=beats_per_minute, lowest=20, highest=300)
    late_s = start_s - beat_s
    return BeatOffset(ms=1000.0 * late_s, beats=late_s * beats_per_minute / 60.0)
