"""From the sound of one try to its figures, its trace and how it did, by the kind of measure."""

from .trial import LISTENED_FOR, Against, Heard, Wanted, measured

__all__ = ["LISTENED_FOR", "Against", "Heard", "Wanted", "measured"]
