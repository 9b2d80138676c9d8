"""The path from voice to recording: rooms, noises, water, levels."""

from __future__ import annotations

import numpy as np
from scipy.signal import butter, fftconvolve, sosfilt

from .source import RATE, Array


def at_level(sound: Array, dbfs: float) -> Array:
    """Return the sound scaled to a level; 0 dBFS is a full-scale sine."""
    return sound / np.sqrt(np.mean(sound**2) + 1e-20) * 10.0 ** (dbfs / 20.0) / np.sqrt(2.0)


def scene(
    sound: Array, *, dbfs: float = -22.0, room_dbfs: float = -66.0, lead_s: float = 1.0, rng
) -> Array:
    """Return a sound between two stretches of a quiet room."""
    silence = np.zeros(round(lead_s * RATE))
    whole = np.concatenate([silence, at_level(sound, dbfs), silence])
    return whole + at_level(coloured(len(whole), rng=rng), room_dbfs)


def coloured(many: int, *, rng, tilt: float = 0.9) -> Array:
    """Return noise that falls off with frequency, as in rooms."""
    white = rng.standard_normal(many)
    return sosfilt([[1.0, 0.0, 0.0, 1.0, -tilt, 0.0]], white)


def wind(many: int, *, rng) -> Array:
    """Return gusts, nearly all of them below 200 Hz."""
    low = sosfilt(butter(2, 160, fs=RATE, output="sos"), rng.standard_normal(many))
    knots = np.arange(0, many + RATE, RATE // 3)
    gusts = np.interp(np.arange(many), knots, rng.uniform(0, 1, knots.size))
    return low * gusts**2


def tap(many: int, *, rng) -> Array:
    """Return running water: broadband, with a splash now and then."""
    sos = butter(2, (400, 9000), "bandpass", fs=RATE, output="sos")
    flow = sosfilt(sos, rng.standard_normal(many))
    for _ in range(many // 9000):
        at = rng.integers(0, max(1, many - 900))
        flow[at : at + 900] *= 1.0 + rng.uniform(0, 1.2)
    return flow


def add_reverberation(sound: Array, decay_s: float, *, rng, share: float = 0.35) -> Array:
    """Return the sound in a room that decays by 60 dB in this time."""
    many = round(decay_s * RATE)
    tail = rng.standard_normal(many) * 10.0 ** (-3.0 * np.arange(many) / many)
    tail[: round(0.008 * RATE)] = 0.0
    wet = fftconvolve(sound, tail / np.sqrt(np.sum(tail**2)))[: len(sound)]
    return sound + share * wet * np.sqrt(np.mean(sound**2) / (np.mean(wet**2) + 1e-20))


def bubbling(sound: Array, *, rng, rate_hz: float = 16.0, uneven: float = 0.35) -> Array:
    """Return the sound chopped by bubbles at irregular intervals."""
    many = int(len(sound) / RATE * rate_hz * 2) + 8
    times = np.cumsum(rng.lognormal(np.log(1 / rate_hz), uneven, many))
    depth = rng.uniform(0.15, 0.6, many)
    knots = np.maximum.accumulate(np.stack([times, times + 0.35 / rate_hz], axis=1).reshape(-1))
    values = np.stack([np.ones(many), depth], axis=1).reshape(-1)
    chopped = sound * np.interp(np.arange(len(sound)) / RATE, knots, values)
    pops = np.zeros(len(sound))
    for time in times[times < len(sound) / RATE - 0.05]:
        at = round(time * RATE)
        t = np.arange(round(0.02 * RATE)) / RATE
        pop = np.sin(2 * np.pi * rng.uniform(500, 1400) * t) * np.exp(-t / 0.004)
        pops[at : at + pop.size] += pop
    return chopped + 0.25 * np.sqrt(np.mean(sound**2)) * pops


def hiss(seconds: float, *, rng, band=(4500.0, 9500.0)) -> Array:
    """Return a held /s/."""
    noise = sosfilt(
        butter(3, band, "bandpass", fs=RATE, output="sos"),
        rng.standard_normal(round(seconds * RATE)),
    )
    ramp = round(0.04 * RATE)
    noise[:ramp] *= np.linspace(0, 1, ramp)
    noise[-ramp:] *= np.linspace(1, 0, ramp)
    return noise


def breath(seconds: float, *, rng) -> Array:
    """Return an audible breath in: broadband, swelling and fading."""
    noise = sosfilt(
        butter(1, (500, 6000), "bandpass", fs=RATE, output="sos"),
        rng.standard_normal(round(seconds * RATE)),
    )
    return noise * np.sin(np.linspace(0, np.pi, len(noise))) ** 2
