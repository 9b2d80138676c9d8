"""Simulated stand-ins for a sound-level meter and a spirometer.

Each reads as a real one would: rounded, and never twice quite the same.
"""

from __future__ import annotations

import numpy as np

from reedcore.errors import ValueOutOfRange

#: Full scale of the simulated microphone, dB SPL.
FULL_SCALE_DB_SPL = 102.0


def meter_reading_db_spl(dbfs: float, *, seed: int) -> float:
    """Return a sound-level meter's reading next to the microphone for a sound of this recorded
    level, to 0.1 dB.

    Raises:
        ValueOutOfRange: a level above full scale or under −90 dBFS.
    """
    if not -90.0 <= dbfs <= 3.1:
        raise ValueOutOfRange(what="level in dBFS", value=dbfs, lowest=-90.0, highest=3.1)
    wander = np.random.default_rng([seed, 1]).normal(0.0, 0.15)
    return float(round(FULL_SCALE_DB_SPL + dbfs + wander, 1))


def spirometer_reading_ml(*, usual_ml: float, seed: int) -> float:
    """Return the volume of one full breath out, to 10 mL.

    Raises:
        ValueOutOfRange: a usual volume outside 500–8000 mL.
    """
    if not 500.0 <= usual_ml <= 8000.0:
        raise ValueOutOfRange(what="volume in mL", value=usual_ml, lowest=500.0, highest=8000.0)
    share = 1.0 - abs(float(np.random.default_rng([seed, 2]).normal(0.0, 0.03)))
    return float(round(usual_ml * share, -1))
