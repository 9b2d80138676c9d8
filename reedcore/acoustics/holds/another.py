"""Separate a hold from other sounds: a television, music, a thump.

Other sound jumps in level and also in pitch or spectrum. A voice that swells or fades does not.
"""

from __future__ import annotations

from itertools import pairwise
from math import isfinite

import numpy as np
import scipy
from numpy.typing import NDArray

from ..middle import middle_of
from ..runs import Stretch, runs
from ..settings import HOP_S
from ..track.frames import Array, Frames
from .stillness import shape_db

#: Below this nothing is sound (16-bit noise lies near −98 dBFS).
FAINTEST_DBFS = -80.0
#: Minimum voiced time without a gap (s). Speech rarely reaches it, a held voice does.
ANCHOR_S = 0.70
#: A piece that starts farther than this from the end of the hold is another utterance.
SAME_PITCH_CENTS, SAME_PITCH_SHORT_CENTS = 300.0, 120.0
#: Another source: a jump of this size over the frames of one window and a few more, if the pitch
#: jumps too; or of the second size, whatever the pitch.
LEAP_DB, FAR_LEAP_DB, LEAP_FRAMES, LEAP_WITHIN = 12.0, 20.0, 8, 4
LEAP_CENTS, TURN_CENTS = 200.0, 50.0
#: Frames over which the two are compared.
NEAR = 20
#: Softer by this much for this long, with another spectrum (RMS over its bands): another voice. The
#: echo of a voice differs by at most 3.4 dB, a television usually by 4.3 dB or more. An echo cannot
#: come before its sound: there a jump of the last size is enough.
OTHER_DB, OTHER_FRAMES, OTHER_SHAPE_DB, HEAD_LEAP_DB = 10.0, 12, 4.0, 15.0
#: Maximum length of a thump beside a hold (frames), and how much softer it is (dB).
SCRAP, SCRAP_SOFTER_DB = 15, 6.0
#: A mouth that closes this often for this long makes the same voice soft.
CLOSED_TIMES, CLOSED_FRAMES = 2, 5
#: Frames on each side of an edge.
EDGE = 4


def split_at_jumps(frames: Frames, piece: Stretch) -> list[Stretch]:
    """Return a piece cut where another's sound leaves off: its level leaps, and so does its pitch
    or its spectrum, or it leaps farther than any voice does that goes on."""
    start, end = piece
    levels = frames.voice_band_dbfs[start:end]
    if end - start < 4 * LEAP_FRAMES or np.ptp(levels) < LEAP_DB:
        return [piece]
    sums = np.concatenate([[0.0], np.cumsum(np.maximum(levels, FAINTEST_DBFS))])
    means = (sums[LEAP_FRAMES:] - sums[:-LEAP_FRAMES]) / LEAP_FRAMES
    # The two overlap for a few frames, which belong to neither.
    apart = LEAP_FRAMES + LEAP_WITHIN
    leaps = np.abs(means[apart:] - means[:-apart])
    cuts: list[int] = []
    for first, last in runs(leaps >= LEAP_DB, joining=0):
        at = first + int(np.argmax(leaps[first:last]))
        before, after = start + at + LEAP_FRAMES, start + at + apart
        here, there = slice(max(start, before - NEAR), before), slice(after, after + NEAR)
        if leaps[at] >= FAR_LEAP_DB or _turns(frames, here, there):
            cuts.append(_louder_edge(frames, before, after))
    edges = [start, *cuts, end]
    parts = [(a, b) for a, b in pairwise(edges) if b > a]
    # Syllables jump too. Keep a stretch without a hold whole, so that it is recognised as speech.
    return parts if any(map(is_anchor, parts)) else [piece]


def _turns(frames: Frames, here: slice, there: slice) -> bool:
    """Return whether the source changes: another pitch, no pitch, or another spectrum with a
    slightly different pitch."""
    turn = median_cents(frames.pitch_hz[here]) - median_cents(frames.pitch_hz[there])
    if not isfinite(turn) or abs(turn) > LEAP_CENTS:
        return True
    other = _spectral_distance_db(frames.bands[here], frames.bands[there]) > OTHER_SHAPE_DB
    return abs(turn) > TURN_CENTS and other


def _spectral_distance_db(one: Array, other: Array) -> float:
    """Return how far two spectra are apart, without their level: RMS over the bands."""
    return float(np.sqrt(np.mean((shape_db(one) - shape_db(other)) ** 2)))


def trim_other_voices(frames: Frames, stretch: Stretch) -> Stretch:
    """Return a hold without other sounds before or after it that are abruptly much softer: a
    television, music.

    The echo of a room, which keeps the voice's spectrum, is let go of elsewhere; a voice that
    swells or fades does not leap.
    """
    start, end = stretch
    levels = frames.voice_band_dbfs[start:end]
    if len(levels) < 4 * LEAP_FRAMES:
        return stretch
    usual = scipy.ndimage.uniform_filter1d(np.maximum(levels, FAINTEST_DBFS), NEAR, mode="nearest")
    faded = middle_of(levels) - OTHER_DB
    loud = np.flatnonzero(usual > faded)
    if not loud.size or _softens_repeatedly(frames[start + loud[0] : start + loud[-1] + 1], faded):
        return stretch
    first = start + _step(levels, int(loud[0]))
    last = end - _step(levels[::-1], len(levels) - 1 - int(loud[-1]))
    before, after = slice(start, first), slice(last, end)
    edges = (first, -1), (last, 1)
    leaps = [_leap_db(frames.voice_band_dbfs, at, ahead) >= LEAP_DB for at, ahead in edges]
    if leaps[1] and _is_another(frames, after, slice(max(first, last - NEAR), last), np.inf):
        end = last
    if leaps[0] and _is_another(frames, before, slice(first, first + NEAR), HEAD_LEAP_DB):
        start = first
    return start, end


def trim_thumps(frames: Frames, stretch: Stretch) -> Stretch:
    """Return the hold without a thump right before or after it: a softer sound of another pitch."""
    start, end = stretch
    if (end - start) * HOP_S < ANCHOR_S:
        return stretch
    pitch, levels = frames.pitch_hz[start:end], frames.voice_band_dbfs[start:end]
    first = _scrap(pitch, levels)
    last = _scrap(pitch[::-1], levels[::-1])
    return start + first, end - last


def _scrap(pitch_hz: Array, levels: Array) -> int:
    """Return how many frames at the start are not the voice that follows."""
    own, level = pitch_hz[SCRAP : SCRAP + NEAR], middle_of(levels[SCRAP : SCRAP + NEAR])
    with np.errstate(invalid="ignore"):
        off = np.abs(1200.0 * np.log2(pitch_hz[:SCRAP]) - median_cents(own)) > SAME_PITCH_CENTS
    others = np.flatnonzero(off & (levels[:SCRAP] < level - SCRAP_SOFTER_DB))
    return int(others[-1]) + 1 if others.size else 0


def _softens_repeatedly(part: Frames, faded: float) -> bool:
    """Return whether the voice itself becomes as soft on its note again and again: a mouth that
    closes."""
    voiced_hz = part.pitch_hz[part.periodic]
    if not voiced_hz.size:
        return False
    with np.errstate(invalid="ignore"):
        on_note = np.abs(1200.0 * np.log2(part.pitch_hz / middle_of(voiced_hz))) < LEAP_CENTS
    closed = runs(on_note & (part.voice_band_dbfs < faded), joining=2)
    return sum(b - a >= CLOSED_FRAMES for a, b in closed) >= CLOSED_TIMES


def _leap_db(levels: Array, at: int, ahead: int) -> float:
    """Return how much softer it is within a tenth of a second after a place than before it
    (``ahead`` 1), or the other way round (−1)."""
    sides = slice(max(0, at - LEAP_FRAMES), at), slice(at, at + LEAP_FRAMES)
    before, after = (levels[each] for each in sides)
    return ahead * (middle_of(before) - middle_of(after)) if before.size and after.size else 0.0


def _step(levels: Array, near: int) -> int:
    """Return where the level rises most about a place."""
    low, high = max(near - NEAR, EDGE), min(near + NEAR, len(levels) - EDGE)
    if high <= low:
        return 0
    sums = np.concatenate([[0.0], np.cumsum(np.maximum(levels, FAINTEST_DBFS))])
    at = np.arange(low, high)
    rises = sums[at + EDGE] - 2.0 * sums[at] + sums[at - EDGE]
    return int(at[np.argmax(rises)])


def _is_another(frames: Frames, outside: slice, inside: slice, sure_db: float) -> bool:
    """Return whether the sound outside the loud part of a hold is from another source: much softer
    with another spectrum, or softer by ``sure_db`` with any spectrum."""
    if outside.stop - outside.start < OTHER_FRAMES:
        return False
    levels = frames.voice_band_dbfs
    leap = middle_of(levels[inside]) - middle_of(levels[outside])
    if leap < LEAP_DB:
        return False
    sung = frames.bands[outside][frames.periodic[outside]]
    if leap >= sure_db or not len(sung):
        return True
    return _spectral_distance_db(sung, frames.bands[inside]) > OTHER_SHAPE_DB


def _louder_edge(frames: Frames, before: int, after: int) -> int:
    """Return where between the two the louder one begins or ends: half way in level."""
    levels = frames.voice_band_dbfs[before - 1 : after + 1]
    half = (levels[0] + levels[-1]) / 2.0
    rises = levels[-1] > levels[0]
    over = np.flatnonzero(levels > half)
    return before - 1 + int(over[0] if rises else over[-1] + 1)


def median_cents(pitch_hz: NDArray[np.float64]) -> float:
    """Return the median of the pitch in cents; NaN where no frame has one."""
    known = pitch_hz[~np.isnan(pitch_hz)]
    return float(1200.0 * np.log2(middle_of(known))) if known.size else np.nan


def is_anchor(piece: Stretch) -> bool:
    """Return whether a piece is long enough to identify its voice."""
    return (piece[1] - piece[0]) * HOP_S >= ANCHOR_S
