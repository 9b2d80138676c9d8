"""The geometry of a reed: a held sound as a picture, every line of it measured.

Height is seconds. A traced stem is the pitch trace itself; a small one sums it up: the tip leans by
the median error of the last third (clipped at ±50 cents), the stem shivers with the spread, and a
gap stands where the voice broke. Plain numbers in, SVG path data out.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from itertools import pairwise
from math import isfinite, pi, sin
from statistics import median
from typing import Any

LEAN_CLIP_CENTS = 50.0
#: Shiver in pixels per cent of spread, and its maximum.
SHIVER_PX_PER_CENT, SHIVER_MOST_PX = 0.06, 3.5
SHIVER_WAVE_PX = 13.0
#: Maximum smoothing of a drawn trace.
MEDIAN_S = 0.060
#: Draw a shorter break this wide, so that it is visible.
GAP_LEAST_PX = 7.0


@dataclass(frozen=True)
class Scale:
    """The vertical scale: the y of the ground, and pixels per second."""

    ground: float
    px_per_s: float

    def y(self, seconds: Any) -> float:
        """Return the height of a number of seconds, px."""
        return round(self.ground - seconds * self.px_per_s, 1)


def small_stem(
    *,
    x: Any,
    seconds: Any,
    lean_cents: Any,
    spread_cents: Any,
    breaks: Any,
    scale: Any,
    lean_px: float = 7.0,
) -> str:
    """Return the path of a reed in a summary, a straight one if the pitch is unknown.

    ``breaks`` are (start, end) in seconds after the start of the hold.
    """
    lean = max(-1.0, min(1.0, (lean_cents or 0.0) / LEAN_CLIP_CENTS)) * lean_px
    shiver = min((spread_cents or 0.0) * SHIVER_PX_PER_CENT, SHIVER_MOST_PX)
    height = seconds * scale.px_per_s
    steps = max(6, round(height / 3))
    # The root does not move; full shiver from a quarter of the height upwards.
    turn, rooted = 2 * pi * height / (SHIVER_WAVE_PX * steps), steps / 4
    points = [
        (
            step * seconds / steps,
            x + lean * (step / steps) ** 2 + shiver * min(1.0, step / rooted) * sin(turn * step),
        )
        for step in range(steps + 1)
    ]
    return _path(_mask_breaks(points, _visible(breaks, scale)), scale)


def traced_stem(
    *,
    x: Any,
    cents: Any,
    step_s: Any,
    px_per_cent: Any,
    breaks: Any,
    scale: Any,
    clip_cents: float = 120.0,
) -> str:
    """Return the path of the pitch trace itself, bottom to top; interrupted at breaks of the voice.

    Each point is the median of 60 ms, which hides no more than the width of the line.
    """
    width = max(1, round(MEDIAN_S / step_s))
    points = []
    for first in range(0, len(cents), width):
        voiced_cents = [value for value in cents[first : first + width] if isfinite(value)]
        if voiced_cents:
            middle = max(-clip_cents, min(clip_cents, median(voiced_cents)))
            points.append(((first + width / 2) * step_s, x + middle * px_per_cent))
    return _path(_mask_breaks(points, _visible(breaks, scale)), scale)


def water_steps(targets: list[Any], *, left: Any, right: Any, scale: Any) -> str:
    """Return the path of the water's surface over [(from_x, seconds), …]: it steps with the
    target."""
    if not targets:
        return ""
    parts = [f"M{left:.1f} {scale.y(targets[0][1])}"]
    for (_, before), (at, after) in pairwise(targets):
        parts.append(f"L{at:.1f} {scale.y(before)}L{at:.1f} {scale.y(after)}")
    parts.append(f"L{right:.1f} {scale.y(targets[-1][1])}")
    return "".join(parts)


def _visible(breaks: list[Any] | tuple[()], scale: Scale) -> Iterator[tuple[float, float]]:
    """Return the breaks, the shortest ones widened until a gap is visible."""
    for start, end in breaks:
        wider = max(0.0, GAP_LEAST_PX / scale.px_per_s - (end - start)) / 2
        yield start - wider, end + wider


def _mask_breaks(points: list[Any], breaks: Iterable[Any]) -> list[Any]:
    """Return the points, with None for those inside a break."""
    apart = list(breaks)
    if not apart:
        return points
    return [
        None if any(start <= at <= end for start, end in apart) else (at, place)
        for at, place in points
    ]


def _path(points: list[Any], scale: Scale) -> str:
    parts, pen_down, ground, px_per_s = [], False, scale.ground, scale.px_per_s
    for point in points:
        if point is None:
            pen_down = False
            continue
        at, place = point
        parts.append(f"{'L' if pen_down else 'M'}{place:.1f} {ground - at * px_per_s:.1f}")
        pen_down = True
    return "".join(parts)
