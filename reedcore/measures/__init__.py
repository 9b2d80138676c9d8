"""The kinds of measure, and from the sound of one try to its figures, its trace and how it did."""

from .common import Against, Wanted
from .kind import CountedThing, Drawn, Figure, Kind
from .kinds import KINDS, kind_of, measures_with
from .trial import Heard, measured

__all__ = [
    "KINDS", "Against", "CountedThing", "Drawn", "Figure", "Heard", "Kind", "Wanted", "kind_of",
    "measured", "measures_with",
]  # fmt: skip
