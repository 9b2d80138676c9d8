"""Makes ready to measure, so that the first sound of a process need not wait for it."""

from __future__ import annotations

import numpy as np

from .analysis import analyse

#: A file's usual rate, one that is no multiple of it, and long enough to be held.
_RATES_HZ, _SECONDS, _PITCH_HZ = (48_000, 16_000), 1.4, 200.0


def ready() -> None:
    """Measures a short made-up sound: every loop is then compiled, or read from its place."""
    for rate_hz in _RATES_HZ:
        at = np.arange(int(_SECONDS * rate_hz)) / rate_hz
        sound = sum(np.sin(2 * np.pi * _PITCH_HZ * part * at) / part for part in range(1, 6))
        analyse(0.05 * np.asarray(sound), rate_hz)
