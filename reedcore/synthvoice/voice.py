"""Source and filter: a glottal pulse train through the resonances of a vowel, in a room.

The source is a sum of harmonics of falling strength under a moving phase (so that pitch is exact at
every sample), the filter a cascade of two-pole resonators (J Acoust Soc Am 1980;67:971–995).
"""

from __future__ import annotations

from dataclasses import dataclass, field
from math import pi

import numpy as np
from numpy.typing import NDArray
from scipy.signal import lfilter

from reedcore.errors import ValueOutOfRange

Array = NDArray[np.float64]

#: Resonances of an adult's vowels, Hz and bandwidth in Hz (J Acoust Soc Am 1952;24:175–184).
VOWELS: dict[str, tuple[tuple[float, float], ...]] = {
    "ah": ((730, 80), (1090, 90), (2440, 120), (3400, 180)),
    "oh": ((500, 70), (850, 80), (2410, 120), (3300, 180)),
    "oo": ((320, 60), (870, 80), (2240, 120), (3300, 180)),
    "ee": ((290, 60), (2250, 100), (3000, 150), (3700, 200)),
}
#: Fall of the source's harmonics, dB per octave.
SOURCE_TILT_DB = 12.0
#: How fast a voice starts and stops, s.
ATTACK_S, RELEASE_S = 0.04, 0.05
_PERIOD_POINTS = 8192


@dataclass(frozen=True, slots=True)
class HeldVoice:
    """What the simulated client does.

    Attributes:
        pitch_hz: where the hold begins to be steady.
        hold_s: from the first to the last instant of voice.
        lead_s, tail_s: room before and after.
        level_dbfs: RMS level of the hold's middle.
        drift_cents: how far the pitch glides, evenly, from start to end.
        scoop_cents: how far from the note it starts before settling within half a second.
        tremor_cents, tremor_hz: extent (half peak to peak) and rate.
        jitter_cents: SD of a slow random walk about the pitch.
        fall_db: how much softer the end is than the start, evenly.
        breaks: (seconds after the start, length in seconds) of silences inside the hold.
        breath_in: an audible breath before the hold.
        breathiness_db: noise through the vowel, relative to the voice.
        room_dbfs: level of the room's noise.
        seed: the same seed gives the same samples.
    """

    pitch_hz: float
    hold_s: float
    vowel: str = "oh"
    lead_s: float = 1.2
    tail_s: float = 1.0
    level_dbfs: float = -20.0
    drift_cents: float = 0.0
    scoop_cents: float = 0.0
    tremor_cents: float = 0.0
    tremor_hz: float = 5.0
    jitter_cents: float = 4.0
    fall_db: float = 0.0
    breaks: tuple[tuple[float, float], ...] = field(default=())
    breath_in: bool = False
    breathiness_db: float = -32.0
    room_dbfs: float = -66.0
    seed: int = 1


@dataclass(frozen=True, slots=True)
class Truth:
    """What is so in the clip, by construction."""

    start_s: float
    end_s: float
    median_hz: float
    breaks: tuple[tuple[float, float], ...]

    @property
    def duration_s(self) -> float:
        """From the first to the last instant of voice."""
        return self.end_s - self.start_s


@dataclass(frozen=True, slots=True, eq=False)
class Clip:
    """Samples at full scale ±1, their rate, and the truth about them."""

    samples: Array
    rate_hz: int
    truth: Truth


def speak(voice: HeldVoice, *, rate_hz: int = 48_000) -> Clip:
    """The sound of one held vowel in a room.

    Raises:
        ValueOutOfRange: a pitch, length or vowel that no voice has.
    """
    _check(voice)
    rng = np.random.default_rng(voice.seed)
    count = round(voice.hold_s * rate_hz)
    lead, tail = round(voice.lead_s * rate_hz), round(voice.tail_s * rate_hz)
    pitch = _pitch(voice, count, rate_hz, rng)
    envelope = _envelope(voice, count, rate_hz)
    voiced = _through_vowel(_source(pitch, rate_hz), voice.vowel, rate_hz)
    breath = _through_vowel(rng.normal(size=count), voice.vowel, rate_hz)
    breath *= _rms(voiced) / _rms(breath) * 10 ** (voice.breathiness_db / 20)
    sound = (voiced + breath) / _rms(voiced) * envelope
    sound *= 10 ** (voice.level_dbfs / 20) / np.sqrt(2)
    samples = np.concatenate([np.zeros(lead), sound, np.zeros(tail)])
    if voice.breath_in and voice.lead_s >= 0.9:
        samples += _breath_in(len(samples), lead, rate_hz, voice.level_dbfs - 22, rng)
    room = rng.normal(size=samples.size) * 10 ** (voice.room_dbfs / 20) / np.sqrt(2)
    start_s = lead / rate_hz
    truth = Truth(
        start_s=start_s,
        end_s=start_s + count / rate_hz,
        median_hz=float(np.median(pitch)),
        breaks=tuple((start_s + at, start_s + at + length) for at, length in voice.breaks),
    )
    return Clip(np.clip(samples + room, -1.0, 1.0), rate_hz, truth)


def _check(voice: HeldVoice) -> None:
    limits = {
        "pitch_hz": (40.0, 1500.0),
        "hold_s": (0.2, 600.0),
        "lead_s": (0.0, 60.0),
        "tail_s": (0.0, 60.0),
    }
    for what, (lowest, highest) in limits.items():
        value = getattr(voice, what)
        if not lowest <= value <= highest:
            raise ValueOutOfRange(what=what, value=value, lowest=lowest, highest=highest)
    if voice.vowel not in VOWELS:
        raise ValueOutOfRange(what="vowel", value=voice.vowel, lowest=None, highest=None)


def _pitch(voice: HeldVoice, count: int, rate_hz: int, rng: np.random.Generator) -> Array:
    """Pitch at each sample, in Hz."""
    t = np.arange(count) / rate_hz
    cents = voice.drift_cents * t / max(t[-1], 1e-9)
    cents = cents + voice.scoop_cents * np.exp(-t / 0.15)
    cents += voice.tremor_cents * np.sin(2 * pi * voice.tremor_hz * t)
    if voice.jitter_cents:
        # a random walk pulled back to the note, one step every 10 ms, joined by straight lines
        steps = rng.normal(size=max(2, round(voice.hold_s * 100)))
        walk = lfilter([1.0], [1.0, -0.9], steps)
        walk *= voice.jitter_cents / max(float(np.std(walk)), 1e-9)
        cents += np.interp(t, np.linspace(0, t[-1], walk.size), walk)
    return np.asarray(voice.pitch_hz * 2 ** (cents / 1200))


def _source(pitch: Array, rate_hz: int) -> Array:
    """Harmonics of one phase, up to the highest that the rate can carry.

    One period is drawn finely once and read off along the phase: 200 points to a cycle of the
    highest harmonic keep what the straight lines between them add some 80 dB down.
    """
    highest = max(1, min(40, int(0.45 * rate_hz / float(np.max(pitch)))))
    turn = np.linspace(0.0, 2 * pi, _PERIOD_POINTS + 1)
    period = np.zeros(turn.size)
    for harmonic in range(1, highest + 1):
        weight = 10 ** (-SOURCE_TILT_DB * np.log2(harmonic) / 20)
        period += weight * np.sin(harmonic * turn + 0.7 * harmonic**2)
    phase = np.cumsum(pitch) / rate_hz
    return np.interp((phase % 1.0) * _PERIOD_POINTS, np.arange(turn.size), period)


def _through_vowel(sound: Array, vowel: str, rate_hz: int) -> Array:
    for centre_hz, width_hz in VOWELS[vowel]:
        if centre_hz < 0.45 * rate_hz:
            radius = np.exp(-pi * width_hz / rate_hz)
            angle = 2 * pi * centre_hz / rate_hz
            back = [1.0, -2 * radius * np.cos(angle), radius**2]
            sound = lfilter([sum(back)], back, sound)
    return np.asarray(sound)


def _envelope(voice: HeldVoice, count: int, rate_hz: int) -> Array:
    t = np.arange(count) / rate_hz
    shape = 10 ** (-voice.fall_db * (t / max(t[-1], 1e-9) - 0.5) / 20)
    shape *= np.clip(t / ATTACK_S, 0, 1) * np.clip((t[-1] - t) / RELEASE_S, 0, 1)
    for at, length in voice.breaks:
        edge = 0.008
        gap = np.clip((t - at) / edge, 0, 1) * np.clip((at + length - t) / edge, 0, 1)
        shape *= 1 - gap
    return np.asarray(shape)


def _breath_in(
    total: int, lead: int, rate_hz: int, level_dbfs: float, rng: np.random.Generator
) -> Array:
    """Six tenths of a second of rushing air that ends a tenth before the voice."""
    length = round(0.6 * rate_hz)
    end = lead - round(0.1 * rate_hz)
    air = lfilter([1.0, -0.7], [1.0], rng.normal(size=length)) * np.hanning(length)
    air *= 10 ** (level_dbfs / 20) / np.sqrt(2) / _rms(air)
    breath = np.zeros(total)
    breath[end - length : end] = air
    return breath


def _rms(sound: Array) -> float:
    return float(np.sqrt(np.mean(sound**2))) or 1.0
