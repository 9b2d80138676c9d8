"""Prepare the engine, so that the first sound of a process need not wait for it."""

from __future__ import annotations

import numpy as np

from .analysis import analyse
from .voice.perturbation import perturbation_of

#: The usual rate of a file, and a length that uses every part of the measuring.
_RATE_HZ, _SECONDS = 48_000, 0.5
_PITCH_HZ = 200.0


def ready() -> None:
    """Measure a little noise: every loop is then compiled, or read from its place."""
    noise = np.random.default_rng(0).normal(0.0, 0.05, int(_SECONDS * _RATE_HZ))
    analyse(noise, _RATE_HZ)
    # Only for holds: noise has none.
    perturbation_of(noise.astype(np.float32), pitch_hz=_PITCH_HZ)
