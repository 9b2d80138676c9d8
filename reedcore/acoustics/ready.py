"""Makes ready to measure, so that the first sound of a process need not wait for it."""

from __future__ import annotations

import numpy as np

from .analysis import analyse
from .voice.perturbation import perturbation_of

#: A file's usual rate, and a length that every part of the measuring looks at.
_RATE_HZ, _SECONDS = 48_000, 0.5
_PITCH_HZ = 200.0


def ready() -> None:
    """Measure a little noise: every loop is then compiled, or read from its place."""
    noise = np.random.default_rng(0).normal(0.0, 0.05, int(_SECONDS * _RATE_HZ))
    analyse(noise, _RATE_HZ)
    # of a hold alone, which noise is none
    perturbation_of(noise.astype(np.float32), pitch_hz=_PITCH_HZ)
