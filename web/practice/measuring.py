"""What the core needs to measure a try: what its task asks, as plain values."""

from dataclasses import replace

from reedcore.measures import LISTENED_FOR, Against, Wanted
from reedcore.targets.judging import SHORTEST_TARGET_S, Shape
from web.programmes.models import PrescribedTask
from web.programmes.queries import note_hz, target_of

from .asked import Asked

HEARD = LISTENED_FOR


def wanted_of(asked: Asked) -> Wanted:
    """What a task asks of one try."""
    held = asked.task.measure == PrescribedTask.HOLD
    return Wanted(
        kind=asked.task.measure,
        target=replace(
            target_of(asked.task, seconds=None if held else SHORTEST_TARGET_S),
            shape=Shape(asked.shipped.level if asked.shipped else Shape.EVEN),
        ),
        seconds=asked.seconds,
        note_hz=note_hz(asked.task),
        glide=asked.glide,
        pattern_hz=tuple(asked.pattern_hz),
        longest_gap_s=asked.longest_gap_s,
    )


__all__ = ["HEARD", "Against", "wanted_of"]
