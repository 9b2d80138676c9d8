"""Lips, tongue or water chopping a sound 8–40 times a second: what tells a trill from breaks."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .frames import Array, Frames
from .settings import ENERGY_STEP_S

FLUTTER_HZ = (8.0, 40.0)
#: The share of the level's movement (4–60 Hz) that must gather within ±2 Hz of one rate.
GATHERED, WITHIN_HZ = 0.5, 2.0
#: Half peak to peak; a voice's own level moves less at these rates.
LEAST_DB = 3.0
#: Slower than this a shallow waver is a tremor; lips and water chop deeply.
TREMOR_UP_TO_HZ, LEAST_SLOW_DB = 12.0, 6.0
#: The pulses of a lower voice would be seen in single steps, and taken for a chop.
LOW_VOICE_HZ = 110.0
NEEDS_S = 0.5


@dataclass(frozen=True, slots=True)
class Flutter:
    """Rate in Hz, and depth in dB, half peak to peak."""

    rate_hz: float
    depth_db: float


def flutter_of(part: Frames) -> Flutter | None:
    """The flutter of a stretch, None where there is none."""
    heard = part.pitch_hz[part.periodic]
    low = heard.size > 0 and float(np.median(heard)) < LOW_VOICE_HZ
    levels = step_levels(part, over=3 if low else 1)
    if levels.size * ENERGY_STEP_S < NEEDS_S:
        return None
    moving = levels - np.convolve(np.pad(levels, 20, mode="edge"), np.ones(41) / 41, mode="valid")
    # one break is a deep dip, but no flutter: what is rare in the level does not count
    moving = np.clip(moving, *np.percentile(moving, (5, 95)))
    window = np.hanning(moving.size)
    power = np.abs(np.fft.rfft(moving * window)) ** 2
    hz = np.fft.rfftfreq(moving.size, ENERGY_STEP_S)
    among = (hz >= FLUTTER_HZ[0]) & (hz <= FLUTTER_HZ[1])
    around = (hz >= 4.0) & (hz <= 60.0)
    if not among.any() or power[around].sum() <= 0:
        return None
    rate = float(hz[among][np.argmax(power[among])])
    # a square chop has overtones: they belong to it
    near = np.zeros(hz.size, dtype=bool)
    for multiple in (1, 2, 3):
        near |= np.abs(hz - multiple * rate) <= WITHIN_HZ
    gathered = power[near & around].sum() / power[around].sum()
    depth = float(np.sqrt(2.0 * 2.0 * power[near].sum() / moving.size / np.sum(window**2)))
    least = LEAST_DB if rate >= TREMOR_UP_TO_HZ else LEAST_SLOW_DB
    return Flutter(rate, depth) if gathered >= GATHERED and depth >= least else None


def step_levels(part: Frames, *, over: int = 1) -> Array:
    """Level of the voice band each 5 ms, over so many steps; digital silence is −120 dB."""
    band = part.voice_band.reshape(-1)
    # convolve gives back as many as the longer of the two has
    power = np.convolve(band, np.ones(over) / over, mode="same") if band.size >= over else band
    return np.asarray(10.0 * np.log10(np.maximum(2.0 * power, 1e-12)))
