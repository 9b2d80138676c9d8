"""Parts one after another in a room, with the truth about each."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from reedcore.errors import ValueOutOfRange

from .parts import Hiss, Part, Room, VoicedPart, check_part
from .sounds import rms, rms_of_level, sound_of

Array = NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Span:
    """One part's place in a clip.

    Attributes:
        part: what it is.
        start_s, end_s: its first and last instant.
        median_hz: of its pitch; NaN without one.
        breaks: (start, end) of each silence inside it.
    """

    part: Part
    start_s: float
    end_s: float
    median_hz: float
    breaks: tuple[tuple[float, float], ...]

    @property
    def duration_s(self) -> float:
        """Return the time from its first to its last sample."""
        return self.end_s - self.start_s


@dataclass(frozen=True, slots=True, eq=False)
class Clip:
    """Samples with full scale at ±1, their rate, and the truth about them, part by part."""

    samples: Array
    rate_hz: int
    spans: tuple[Span, ...]

    @property
    def holds(self) -> tuple[Span, ...]:
        """Return the voiced and hissed parts, which an analyser should find."""
        return tuple(span for span in self.spans if isinstance(span.part, VoicedPart | Hiss))

    @property
    def truth(self) -> Span:
        """Return the first of them."""
        return self.holds[0]


def render(
    parts: tuple[Part, ...], *, room: Room | None = None, rate_hz: int = 48_000, seed: int = 1
) -> Clip:
    """Return the sound of the parts, laid end to end in a room. The same seed gives the same
    samples.

    Raises:
        ValueOutOfRange: a part that no voice could make, or a rate outside 8–96 kHz.
    """
    if not 8_000 <= rate_hz <= 96_000:
        raise ValueOutOfRange(what="rate in Hz", value=rate_hz, lowest=8_000, highest=96_000)
    for part in parts:
        check_part(part)
    rng = np.random.default_rng(seed)
    sounds, spans, at = [], [], 0
    for part in parts:
        sound, pitch = sound_of(part, rate_hz, rng)
        start_s = at / rate_hz
        spans.append(
            Span(
                part=part,
                start_s=start_s,
                end_s=start_s + sound.size / rate_hz,
                median_hz=float(np.median(pitch)) if pitch.size else float("nan"),
                breaks=tuple(
                    (start_s + begin, start_s + begin + length)
                    for begin, length in getattr(part, "breaks", ())
                ),
            )
        )
        sounds.append(sound)
        at += sound.size
    samples = np.concatenate(sounds) if sounds else np.zeros(0)
    samples = (samples + _room(room or Room(), samples.size, rate_hz, rng)) * 10 ** (
        (room or Room()).gain_db / 20
    )
    return Clip(np.clip(samples, -1.0, 1.0), rate_hz, tuple(spans))


def _room(room: Room, count: int, rate_hz: int, rng: np.random.Generator) -> Array:
    noise = rng.normal(size=count)
    if room.tilt_db and count:
        # One pole at 100 Hz falls by 6 dB per octave; part of the hiss fills the difference.
        pole = np.exp(-2 * np.pi * 100 / rate_hz)
        from scipy.signal import lfilter

        low = lfilter([1 - pole], [1, -pole], noise)
        share = min(1.0, room.tilt_db / 6.0)
        noise = share * low / rms(low) + (1 - share) * noise
    if count:
        noise *= rms_of_level(room.noise_dbfs) / rms(noise)
    if room.hum_hz:
        t = np.arange(count) / rate_hz
        hum = sum(np.sin(2 * np.pi * n * room.hum_hz * t + n) / n for n in (1, 2, 3, 5))
        noise = noise + hum * rms_of_level(room.hum_dbfs) / rms(np.asarray(hum))
    return np.asarray(noise)
