"""Ladders: ordered rungs of one variable, and the next rung."""

from .ladder import Ladder
from .seconds import (
    HISS_RUNGS_S,
    HOLD_RUNGS_S,
    personal_rungs_s,
    rung_above_s,
    rung_at_or_under_s,
    rung_below_s,
)

__all__ = [
    "HISS_RUNGS_S",
    "HOLD_RUNGS_S",
    "Ladder",
    "personal_rungs_s",
    "rung_above_s",
    "rung_at_or_under_s",
    "rung_below_s",
]
