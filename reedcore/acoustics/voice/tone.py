"""Telling a loudspeaker's reference tone from a voice.

A tone keeps its pitch and level as no voice does, and its partials only fall, as no vowel's do: the
mouth's resonances lift some of them above those below.
"""

from __future__ import annotations

import itertools

import numpy as np
from numpy.typing import NDArray

from ..settings import HOP_S, WORKING_RATE_HZ
from ..track.frames import Frames
from .levels import smoothed_dbfs
from .steadiness import middle_of

#: Minimum spread of any voice over one second.
SPREAD_CENTS, LEVEL_SD_DB = 0.8, 0.3
#: The pitch of a low tone is less certain.
EXACT_FROM_HZ = 110.0
#: Partials are read from the middle of this length, up to this number, and down to this level below
#: the strongest.
READ_S, PARTIALS, LEAST_DB = 0.5, 10, 40.0
#: A partial can look this much stronger than the one below without being so.
RISE_DB = 1.0


def is_tone(part: Frames, samples: NDArray[np.float32], *, start: int) -> bool:
    """Return whether a stretch is a tone.

    Args:
        part: its frames.
        samples: the recording at 16 kHz.
        start: the stretch's first frame.
    """
    middle = middle_of(part)
    voiced_hz = middle.pitch_hz[middle.periodic]
    if voiced_hz.size < 20:
        return False
    pitch = float(np.median(voiced_hz))
    limit = SPREAD_CENTS * max(1.0, (EXACT_FROM_HZ / pitch) ** 1.5)
    if float(np.std(1200.0 * np.log2(voiced_hz))) >= limit:
        return False
    if float(np.std(smoothed_dbfs(middle)[6:-6])) >= LEVEL_SD_DB:
        return False
    centre = round((start + len(part) / 2) * HOP_S * WORKING_RATE_HZ)
    half = round(READ_S * WORKING_RATE_HZ / 2)
    return _partials_only_fall(samples[max(0, centre - half) : centre + half], pitch)


def _partials_only_fall(samples: NDArray[np.float32], pitch_hz: float) -> bool:
    power = np.abs(np.fft.rfft(samples * np.hanning(samples.size))) ** 2
    per_bin = WORKING_RATE_HZ / samples.size
    levels = []
    for n in range(1, PARTIALS + 1):
        at = round(n * pitch_hz / per_bin)
        if at + 3 >= power.size:
            break
        levels.append(10.0 * np.log10(max(float(power[at - 3 : at + 4].sum()), 1e-20)))
    there = [level for level in levels if level > max(levels) - LEAST_DB]
    return all(later <= one + RISE_DB for one, later in itertools.pairwise(there))
