"""Flutter: lips, tongue or water that chop a sound 8–40 times a second, as opposed to breaks."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..middle import shares_of
from ..runs import Mask
from ..settings import ENERGY_STEP_S
from ..track.frames import Array, Frames

FLUTTER_HZ = (8.0, 40.0)
#: Minimum share of the level movement (4–60 Hz) within ±2 Hz of one rate.
GATHERED, WITHIN_HZ = 0.5, 2.0
#: Half peak to peak; the natural level movement at these rates is smaller.
LEAST_DB = 3.0
#: Below this rate a shallow movement is a tremor; lips and water make deep ones.
TREMOR_UP_TO_HZ, LEAST_SLOW_DB = 12.0, 6.0
#: Pulses of a lower voice would show in single steps and look like a flutter.
LOW_VOICE_HZ = 110.0
NEEDS_S = 0.5
#: Rare levels are not flutter: ignore this share at each end.
RARE = 0.05


@dataclass(frozen=True, slots=True)
class Flutter:
    """Rate in Hz, NaN if irregular; and depth in dB, half peak to peak."""

    rate_hz: float
    depth_db: float


def flutter_of(part: Frames, *, aside: Mask | None = None) -> Flutter | None:
    """Return the flutter of a stretch, None if there is none."""
    voiced_hz = part.pitch_hz[part.periodic]
    low = voiced_hz.size > 0 and float(np.median(voiced_hz)) < LOW_VOICE_HZ
    levels = step_levels(part, over=3 if low else 1)
    if levels.size * ENERGY_STEP_S < NEEDS_S:
        return None
    # One break is a deep dip but not a flutter: ignore rare levels.
    hz, power = moves(bridge_gaps(levels, aside), rare=RARE)
    among, around = mask_between(hz, FLUTTER_HZ), mask_between(hz, (4.0, 60.0))
    if not among.any() or power[around].sum() <= 0:
        return None
    rate = float(hz[among][np.argmax(power[among])])
    # Include overtones: a square flutter has them.
    near = mask_near_multiples(hz, rate, overtones=3, within_hz=WITHIN_HZ)
    gathered = power[near & around].sum() / power[around].sum()
    depth = float(np.sqrt(2.0 * power[near].sum()))
    least = LEAST_DB if rate >= TREMOR_UP_TO_HZ else LEAST_SLOW_DB
    return Flutter(rate, depth) if gathered >= GATHERED and depth >= least else None


def moves(levels: Array, *, rare: float) -> tuple[Array, Array]:
    """Return frequencies, and the mean square of the level movement (dB) at each, without movement
    slower than about 5 Hz; the share ``rare`` of the levels at each end is ignored."""
    moving = levels - np.convolve(np.pad(levels, 20, mode="edge"), np.ones(41) / 41, mode="valid")
    low, high = shares_of(moving, rare, 1.0 - rare)
    moving = np.clip(moving, low, high)
    window = np.hanning(moving.size)
    power = np.abs(np.fft.rfft(moving * window)) ** 2
    hz: Array = np.fft.rfftfreq(moving.size, ENERGY_STEP_S).astype(np.float64)
    return hz, 2.0 * power / moving.size / np.sum(window**2)


def mask_between(hz: Array, ends: tuple[float, float]) -> Mask:
    """Return which frequencies lie between two, both included."""
    return np.asarray((hz >= ends[0]) & (hz <= ends[1]))


def mask_near_multiples(hz: Array, rate: float, *, overtones: int, within_hz: float) -> Mask:
    """Return which frequencies are near a rate or near one of its multiples."""
    near = np.zeros(hz.size, dtype=bool)
    for multiple in range(1, overtones + 1):
        near |= np.abs(hz - multiple * rate) <= within_hz
    return near


def bridge_gaps(levels: Array, aside: Mask | None) -> Array:
    """Return levels of frames, or of half frames, with a line across ignored ones."""
    if aside is None or not aside.any() or aside.all():
        return levels
    out = np.repeat(aside, levels.size // aside.size)
    at = np.arange(levels.size)
    return np.interp(at, at[~out], levels[~out])


def step_levels(part: Frames, *, over: int = 1) -> Array:
    """Return the level of the voice band every 5 ms, over this many steps; silence is −120 dB."""
    band = part.voice_band.reshape(-1)
    # convolve returns the length of the longer input.
    power = np.convolve(band, np.ones(over) / over, mode="same") if band.size >= over else band
    return np.asarray(10.0 * np.log10(np.maximum(2.0 * power, 1e-12)))
