"""The tone source: a reference note as a pitch pipe would give it.

Rich in harmonics, because the loudspeaker of a telephone hardly gives a plain tone of 130 Hz: the
ear hears the note from its harmonics (J Acoust Soc Am 1973;54:1496–1516).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from reedcore.errors import ValueOutOfRange

#: Peak level: loud enough for a tablet, short of distorting its loudspeaker.
PEAK = 0.5
#: Faded in and out so gently that it does not click.
FADE_S = 0.08


def reference_tone(hz: float, *, duration_s: float, rate_hz: int = 44_100) -> NDArray[np.float64]:
    """Samples of a steady note, shape ``(n,)``, peak 0.5.

    Raises:
        ValueOutOfRange: a pitch outside 30–2000 Hz, or a length outside 0.2–30 s.
    """
    for what, value, lowest, highest in (
        ("pitch in Hz", hz, 30.0, 2000.0),
        ("length in s", duration_s, 0.2, 30.0),
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
