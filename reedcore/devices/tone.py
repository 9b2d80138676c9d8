"""The tone source: a reference note as a pitch pipe would give it.

Rich in harmonics, because the loudspeaker of a telephone hardly gives a plain tone of 130 Hz: the
ear hears the note from its harmonics (J Acoust Soc Am 1973;54:1496–1516).
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from reedcore.errors import ValueOutOfRange

#: Peak level: loud enough on a tablet without distortion.
PEAK = 0.5
#: Fade in and out, to avoid clicks.
FADE_S = 0.05


def reference_tone(hz: float, *, duration_s: float, rate_hz: int = 44_100) -> NDArray[np.float64]:
    """Return samples of a steady note, shape ``(n,)``, peak 0.5.

    Raises:
        ValueOutOfRange: a pitch outside 30–2000 Hz, or a length outside 0.15–30 s.
    """
    for what, value, lowest, highest in (
        ("pitch in Hz", hz, 30.0, 2000.0),
        ("length in s", duration_s, 0.15, 30.0),
    ):
        if not lowest <= value <= highest:
            raise ValueOutOfRange(what=what, value=value, lowest=lowest, highest=highest)
    t = np.arange(round(duration_s * rate_hz)) / rate_hz
    sound = np.zeros(t.size)
    for harmonic in range(1, 13):
        if harmonic * hz < 0.45 * rate_hz:
            sound += np.sin(2 * np.pi * harmonic * hz * t) / harmonic
    fade = np.clip(np.minimum(t, t[-1] - t) / FADE_S, 0.0, 1.0)
    sound *= np.sin(0.5 * np.pi * fade) ** 2
    return np.asarray(PEAK * sound / np.max(np.abs(sound)))


def melody(
    line: Sequence[tuple[float | None, float]], *, rate_hz: int = 44_100
) -> NDArray[np.float64]:
    """Return consecutive tones: (Hz, or None for silence; seconds). Shape ``(n,)``, peak 0.5.

    Raises:
        ValueOutOfRange: no tones at all, or one that :func:`reference_tone` refuses.
    """
    if not line:
        raise ValueOutOfRange(what="number of tones", value=0, lowest=1, highest=None)
    made: dict[tuple[float, float], NDArray[np.float64]] = {}
    parts = []
    for hz, seconds in line:
        if hz is None:
            parts.append(np.zeros(round(seconds * rate_hz)))
            continue
        if (hz, seconds) not in made:
            made[hz, seconds] = reference_tone(hz, duration_s=seconds, rate_hz=rate_hz)
        parts.append(made[hz, seconds])
    return np.concatenate(parts)
