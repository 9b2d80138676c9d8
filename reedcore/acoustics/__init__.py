"""Samples in, tracks and measures out.

Two doors and one implementation: :func:`analyse` for a whole recording and :class:`LiveAnalyser`
for sound that is still coming in. Any split of the same samples yields the same frames.
"""

from .analysis import Analysis, TakeKind, analyse
from .holds.measures import Hold, HoldKind
from .live import LiveAnalyser
from .ready import ready
from .track.frames import Frames
from .voice.quality import Quality, QualityReason

__all__ = [
    "Analysis",
    "Frames",
    "Hold",
    "HoldKind",
    "LiveAnalyser",
    "Quality",
    "QualityReason",
    "TakeKind",
    "analyse",
    "ready",
]
