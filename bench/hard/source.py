"""A voice from a glottal pulse and moving resonances, sample by sample."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from scipy.signal import lfilter

RATE = 44_100
Array = np.ndarray
#: First four resonances in Hz of an adult's mouth; others are scaled.
MOUTHS = {
    "ah": (730, 1090, 2440, 3400),
    "oh": (570, 840, 2410, 3300),
    "oo": (300, 870, 2240, 3300),
    "ee": (270, 2290, 3010, 3500),
    "ay": (480, 1900, 2550, 3500),
    "m": (250, 1100, 2200, 3100),
    "ng": (260, 1350, 2300, 3200),
}
WIDTHS = (60.0, 90.0, 140.0, 220.0)
#: Time step of the moving mouth.
STEP = 110


def pulses(pitch_hz: Array, *, open_share: float, jitter: float, shimmer_db: float, rng) -> Array:
    """Return the flow derivative: a rounded opening, a sharp closure, zero while closed."""
    phase = np.cumsum(pitch_hz / RATE)
    cycle = np.floor(phase).astype(int)
    many = cycle[-1] + 2
    stretch = 1.0 + jitter * rng.standard_normal(many)
    height = 10.0 ** (shimmer_db * rng.standard_normal(many) / 20.0)
    at = np.clip((phase - cycle) * stretch[cycle], 0.0, 1.0) / open_share
    rise = 0.66
    opening = np.sin(np.pi * np.clip(at / rise, 0, 1)) * (at < rise)
    closing = -2.2 * np.sin(0.5 * np.pi * np.clip((at - rise) / (1 - rise), 0, 1))
    flow = opening + closing * ((at >= rise) & (at < 1.0))
    return flow * height[cycle]


def through_mouth(sound: Array, formants: Callable[[float], Array]) -> Array:
    """Return the sound through resonances that change every few milliseconds."""
    out = sound.copy()
    states = [np.zeros(2) for _ in WIDTHS]
    for first in range(0, len(sound), STEP):
        block = sound[first : first + STEP]
        for at, (hz, width) in enumerate(zip(formants(first / RATE), WIDTHS, strict=True)):
            r = np.exp(-np.pi * width / RATE)
            turn = 2 * r * np.cos(2 * np.pi * hz / RATE)
            ahead, back = [1.0 - turn + r * r], [1.0, -turn, r * r]
            block, states[at] = lfilter(ahead, back, block, zi=states[at])
        out[first : first + STEP] = block
    return out


def mouth(name: str, *, scale: float = 1.0) -> Callable[[float], Array]:
    """Return a constant mouth shape."""
    kept = np.array(MOUTHS[name]) * scale
    return lambda _: kept


def moving(names: tuple[str, ...], *, every_s: float, scale: float = 1.0, quick_s: float = 0.06):
    """Return a mouth that moves from shape to shape in a circle."""
    shapes = [np.array(MOUTHS[name]) * scale for name in names]

    def at(t: float) -> Array:
        which, into = int(t // every_s), t % every_s
        share = min(1.0, into / quick_s)
        was, now = shapes[(which - 1) % len(shapes)], shapes[which % len(shapes)]
        return was + (now - was) * (0.5 - 0.5 * np.cos(np.pi * share))

    return at


def voice(
    pitch_hz: Array,
    formants: Callable[[float], Array],
    *,
    rng,
    open_share: float = 0.6,
    jitter: float = 0.004,
    shimmer_db: float = 0.25,
    breath_db: float = -34.0,
    attack_s: float = 0.04,
    release_s: float = 0.05,
) -> Array:
    """Return a sound with RMS 1 in its middle; the pitch has one value per sample."""
    flow = pulses(pitch_hz, open_share=open_share, jitter=jitter, shimmer_db=shimmer_db, rng=rng)
    breath = rng.standard_normal(len(flow)) * np.sqrt(np.mean(flow**2)) * 10 ** (breath_db / 20)
    out = through_mouth(flow + breath, formants)
    up, down = round(attack_s * RATE), round(release_s * RATE)
    out[:up] *= np.sin(0.5 * np.pi * np.arange(up) / up)
    out[-down:] *= np.cos(0.5 * np.pi * np.arange(down) / down)
    return out / np.sqrt(np.mean(out**2))


def steady(seconds: float, hz: float, *, rng, wander_cents: float = 12.0, slide_st: float = 0.0):
    """Return a pitch as people hold it: it wanders slowly, and glides on request."""
    many = round(seconds * RATE)
    knots = np.cumsum(rng.standard_normal(int(seconds * 6) + 3))
    knots -= np.linspace(knots[0], knots[-1], knots.size)
    slow = np.interp(np.linspace(0, knots.size - 1, many), np.arange(knots.size), knots)
    slow *= wander_cents / max(1e-9, float(np.std(slow)))
    slow -= np.median(slow)
    return hz * 2.0 ** ((slow + np.linspace(0, 100 * slide_st, many)) / 1200.0)
