"""Sounds with known figures, made without the application's own code."""

import numpy as np

RATE = 16_000


def silence(seconds, rate=RATE, noise=0.0005, seed=0):
    """Return a quiet room."""
    return np.random.default_rng(seed).normal(0.0, noise, round(seconds * rate))


#: No voice is perfectly steady; a perfectly steady sound comes from a loudspeaker (half peak to
#: peak, cents).
ALIVE_CENTS = 2.0


def tone(hz, seconds, rate=RATE, level=0.2, alive=ALIVE_CENTS):
    """Return a buzz: harmonics falling as 1/n, one value of pitch or one per sample, wavering a
    little."""
    count = round(seconds * rate)
    waver = alive * np.sin(2 * np.pi * 1.3 * np.arange(count) / rate)
    pitch = np.broadcast_to(hz, count).astype(float) * 2 ** (waver / 1200)
    phase = 2 * np.pi * np.cumsum(pitch) / rate
    partials = range(1, 1 + int(min(12, 0.45 * rate // pitch.max())))
    return level * sum(np.sin(n * phase) / n for n in partials)


def held(hz, seconds, *, rate=RATE, before=0.8, after=0.8, level=0.2, noise=0.0005):
    """Return a held buzz between two stretches of room."""
    sound = np.concatenate(
        [
            np.zeros(round(before * rate)),
            tone(hz, seconds, rate, level),
            np.zeros(round(after * rate)),
        ]
    )
    return sound + silence(len(sound) / rate, rate, noise)[: len(sound)]
