"""Breaks inside a hold: 30–400 ms without periodicity and 10 dB under the hold's level about it.

A voice that swells or fades by more than that breaks nowhere, nor does the end of its echo.

Found on the 5 ms steps of the voice band, because the 50 ms that a pitch is sought in would cover a
short break from both sides.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy

from ..middle import middle_of
from ..moves.flutter import FLUTTER_HZ
from ..runs import Mask, runs
from ..settings import BREAK_DEPTH_DB, BREAK_LONGEST_S, BREAK_SHORTEST_S, ENERGY_STEP_S, HOP_S
from ..track.frames import Array, Frames

#: Voices below this leave 10 ms empty between two pulses, so their level is taken over 20 ms.
LOW_VOICE_HZ = 120.0
#: How much too narrow a break looks through a level window of width w, as a share of w.
NARROWED = 0.8
#: Median window of the level that a break lies below. A break of at most 0.4 s fills less than half
#: of it.
ABOUT_S = 1.0
#: Time resolution of a break: one step.
TOLERANCE_S = ENERGY_STEP_S


@dataclass(frozen=True, slots=True)
class Break:
    """Seconds from the start of the recording."""

    start_s: float
    end_s: float


def breaks_of(part: Frames, *, start_s: float, median_hz: float) -> tuple[Break, ...]:
    """Return the breaks of a hold's frames, without the dips of a trill or of bubbles."""
    steps = 4 if median_hz < LOW_VOICE_HZ else 2
    band = part.voice_band.reshape(-1)
    if band.size <= steps:  # Shorter than the window: nothing can lie inside.
        return ()
    power = np.convolve(band, np.ones(steps) / steps, mode="same")
    levels = 10.0 * np.log10(np.maximum(2.0 * power, 1e-20))
    sounding = np.repeat(part.periodic, 2)
    known = levels[sounding] if sounding.any() else levels
    median = middle_of(known)
    under = levels < median - BREAK_DEPTH_DB
    if under.any() and known.max() > median + BREAK_DEPTH_DB / 2:
        under &= levels < _local_level(levels, sounding) - BREAK_DEPTH_DB
    found = []
    for first, after in runs(under, joining=2):
        # A dip at the edge of the hold is its onset or its end.
        if first == 0 or after == levels.size:
            continue
        missing = NARROWED * steps * ENERGY_STEP_S / 2
        begin, end = first * ENERGY_STEP_S - missing, after * ENERGY_STEP_S + missing
        found.append(Break(start_s + begin, start_s + end))
    # Include the shorter dips: those of a trill vary by a step.
    return tuple(
        gap
        for gap in _drop_flutter_dips(found)
        if BREAK_SHORTEST_S - TOLERANCE_S <= gap.end_s - gap.start_s < BREAK_LONGEST_S + HOP_S
    )


def _local_level(levels: Array, sounding: Mask) -> Array:
    """Return the median level around each step, from sounding steps only."""
    at = np.flatnonzero(sounding)
    if not at.size:
        return np.full(levels.size, middle_of(levels))
    over = round(ABOUT_S / ENERGY_STEP_S)
    about = scipy.ndimage.median_filter(levels[at], min(over, at.size), mode="nearest")
    return np.interp(np.arange(levels.size), at, about)


def mark_break_frames(breaks: tuple[Break, ...], *, start: int, many: int) -> Mask:
    """Return the number of frames from ``start`` on in breaks, plus one at each edge."""
    inside = np.zeros(many, dtype=bool)
    for gap in breaks:
        first, after = round(gap.start_s / HOP_S) - start - 1, round(gap.end_s / HOP_S) - start + 1
        inside[max(0, first) : max(0, after)] = True
    return inside


def _drop_flutter_dips(found: list[Break]) -> tuple[Break, ...]:
    """Leave out dips that follow one another as fast as lips and water do."""
    shortest, longest = 1.0 / FLUTTER_HZ[1], 1.0 / FLUTTER_HZ[0]
    middles = [(gap.start_s + gap.end_s) / 2 for gap in found]
    apart = np.diff(middles)
    recurring = (apart >= shortest * 0.8) & (apart <= longest * 1.2)
    beside = np.zeros(len(found), dtype=int)
    if len(found) > 1:
        beside[:-1] += recurring
        beside[1:] += recurring
    return tuple(gap for gap, count in zip(found, beside, strict=True) if count == 0)
