"""Notes, hertz and cents: plain scalars, no sound."""

from .notes import A4_HZ, Note, Spelling, cents_between, note_nearest

__all__ = ["A4_HZ", "Note", "Spelling", "cents_between", "note_nearest"]
