"""The kinds of measure there are. Adding one is adding its module, and its line here."""

from __future__ import annotations

from . import beat, bursts, compound, glide, hiss, hold, pattern, script, told
from .kind import Kind

KINDS: dict[str, Kind] = {
    kind.code: kind
    for kind in (
        hold.KIND,
        hiss.KIND,
        glide.KIND,
        pattern.KIND,
        compound.KIND,
        script.KIND,
        bursts.PULSES,
        bursts.BURSTS_THEN_LONG,
        bursts.AIR_THEN_VOICE,
        beat.KIND,
        *told.KINDS,
    )
}


def kind_of(measure: str, shape: str = "") -> Kind:
    """The kind of a task: its shape's, where that is listened for in its own way, or its measure's.

    Raises:
        KeyError: no such measure.
    """
    return KINDS[shape if shape in KINDS else measure]


def measures_with(attribute: str) -> tuple[str, ...]:
    """The measures whose kind has something, as a query of the database needs them."""
    return tuple(code for code, kind in KINDS.items() if getattr(kind, attribute))
