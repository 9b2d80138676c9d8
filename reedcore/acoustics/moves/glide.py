"""Glides: rises, falls and steady parts of the pitch, their size, and jumps."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
import scipy

from ..holds.breaks import Break
from ..holds.stretches import held_stretches
from ..runs import runs
from ..settings import HOP_S
from ..track.frames import Array, Frames
from .bubbles import breaks_and_chop
from .flutter import step_levels

#: A slower movement counts as steady, semitones per second.
STAYING_ST_PER_S = 1.5
#: The slope is measured over this long; vibrato does not change its sign.
SLOPE_OVER_S = 0.25
SHORTEST_SEGMENT_S = 0.15
SHORTEST_MOVE_ST = 0.8
#: The pitch has turned when it comes back by this much; fragments of this many frames are skipped.
TURN_ST, WAY_OVER = 1.0, 15
#: Minimum duration of the lowest and highest pitch.
LASTING_S = 0.050
#: A jump: over two semitones within 50 ms.
JUMP_ST, JUMP_WITHIN_S = 2.0, 0.050
#: In a chopped voice, a frame this far from the medians of this many frames before and after is an
#: error.
BUBBLE_ST, BESIDE_FRAMES = 3.0, 21
#: The remains of a jump move by more than this from frame to frame: 50 semitones a second, faster
#: than any glide.
DRAWN_OUT_ST = 0.5
#: A fragment at an end that is shorter than this and this far from the rest is not the voice.
FALSE_END_S, FALSE_END_ST = 0.080, 7.0
#: A fragment this short, this near to an octave from the voice before and after it.
SCRAP_S, OCTAVE_WITHIN_ST = 0.080, 1.0
#: Fry at an end lasts at most this long, and its level moves this much between pulses.
LONGEST_RATTLE_S, RATTLE_DB, RATTLE_OVER_REST = 1.5, 5.0, 2.0
#: Vocal fry: lower and less periodic than this.
FRY_HZ, FRY_STRENGTH = 70.0, 0.75


class Movement(StrEnum):
    """The direction of pitch over a segment."""

    STEADY = "steady"
    UP = "up"
    DOWN = "down"


class Direction(StrEnum):
    """The direction of a whole glide."""

    UP = "up"
    DOWN = "down"
    UP_AND_DOWN = "up_and_down"
    STEADY = "steady"


@dataclass(frozen=True, slots=True)
class Segment:
    """One movement, from a pitch to a pitch."""

    kind: Movement
    start_s: float
    end_s: float
    from_hz: float
    to_hz: float

    @property
    def semitones(self) -> float:
        """Return how far, negative downwards."""
        return float(12.0 * np.log2(self.to_hz / self.from_hz))

    @property
    def semitones_per_s(self) -> float:
        """Return how fast."""
        return self.semitones / (self.end_s - self.start_s)


@dataclass(frozen=True, slots=True)
class Jump:
    """A leap of the voice: when, from which pitch, and how far (negative downwards)."""

    at_s: float
    hz: float
    semitones: float


@dataclass(frozen=True, slots=True)
class Glide:
    """The whole of it.

    Attributes:
        low_hz, high_hz: lowest and highest pitch that lasted 50 ms, vocal fry left out.
        cycles: how often it went up and down again (or down and up).
        rise_st, fall_st: all its ways up and all its ways down, however slow, between turns of at
            least a semitone.
    """

    start_s: float
    end_s: float
    low_hz: float
    high_hz: float
    direction: Direction
    cycles: int
    segments: tuple[Segment, ...]
    jumps: tuple[Jump, ...]
    breaks: tuple[Break, ...]
    rise_st: float = 0.0
    fall_st: float = 0.0

    @property
    def span_semitones(self) -> float:
        """Return the distance from the lowest to the highest pitch."""
        return float(12.0 * np.log2(self.high_hz / self.low_hz))


def glide_of(
    frames: Frames, *, min_hold_s: float = 0.5, spans_breaths: bool = False
) -> Glide | None:
    """Return the longest glide in a recording; None without a held voice.

    Args:
        over_breaths: a breath inside it ends nothing: from the first held sound to the last.
    """
    stretches = held_stretches(frames, min_hold_s=min_hold_s, is_glide=True)
    if not stretches:
        return None
    start, end = max(stretches, key=lambda stretch: stretch[1] - stretch[0])
    if spans_breaths:
        start, end = stretches[0][0], stretches[-1][1]
    part = frames[start:end]
    fry = (part.pitch_hz < FRY_HZ) & (part.strength < FRY_STRENGTH)
    semitones = np.where(fry, np.nan, 12.0 * np.log2(part.pitch_hz / 440.0))
    breaks, chop = breaks_and_chop(part, start=start, median_hz=float(np.nanmedian(part.pitch_hz)))
    if chop:
        semitones = _drop_bubble_frames(semitones)
    semitones = _trim_fry(_without_octave_scraps(semitones), step_levels(part))
    semitones = _without_false_ends(semitones)
    if np.count_nonzero(np.isfinite(semitones)) < round(LASTING_S / HOP_S):
        return None
    segments = _segments(semitones, start)
    low, high = _extremes(semitones)
    moves = [segment for segment in segments if segment.kind is not Movement.STEADY]
    ways = _move_sizes(semitones)
    return Glide(
        start_s=start * HOP_S,
        end_s=end * HOP_S,
        low_hz=_hz(low),
        high_hz=_hz(high),
        direction=_direction(moves, ways),
        rise_st=sum(way for way in ways if way > 0),
        fall_st=-sum(way for way in ways if way < 0),
        cycles=_cycles(moves),
        segments=segments,
        jumps=_jumps(semitones, start),
        breaks=breaks,
    )


def _hz(semitones: float) -> float:
    return float(440.0 * 2 ** (semitones / 12.0))


def _without_octave_scraps(semitones: Array) -> Array:
    """Return the track with scraps that lie an octave from both their sides put back: no voice
    leaps there and back so fast, but a resonance at half or twice the pitch looks like it for some
    frames."""
    clean = semitones.copy()
    known = np.flatnonzero(np.isfinite(clean))
    values = clean[known]
    leaps = np.flatnonzero(np.abs(np.abs(np.diff(values)) - 12.0) < OCTAVE_WITHIN_ST) + 1
    for first, after in itertools.pairwise(leaps):
        if known[after] - known[first] <= round(SCRAP_S / HOP_S):
            step = values[first] - values[first - 1]
            if abs(values[after] - values[after - 1] + step) < OCTAVE_WITHIN_ST:
                values[first:after] -= 12.0 * np.sign(step)
    clean[known] = values
    return clean


def _drop_bubble_frames(semitones: Array) -> Array:
    """Return the track without frames that are far from the pitch before and after them.

    In these frames the bubbles are periodic, not the voice.
    """
    clean = semitones.copy()
    known = np.flatnonzero(np.isfinite(clean))
    values, half = clean[known], BESIDE_FRAMES // 2
    sides = [
        scipy.ndimage.median_filter(values, BESIDE_FRAMES, mode="nearest", origin=way * half)
        for way in (1, -1)
    ]
    lower, higher = np.minimum(*sides), np.maximum(*sides)
    clean[known[(values < lower - BUBBLE_ST) | (values > higher + BUBBLE_ST)]] = np.nan
    return clean


def _trim_fry(semitones: Array, levels: Array) -> Array:
    """Return the track without the fry at its ends, whose single pulses ring at a formant: a jump
    up into a sound whose level falls between the pulses."""
    clean = semitones.copy()
    for track, steps in ((clean, levels), (clean[::-1], levels[::-1])):
        known = np.flatnonzero(np.isfinite(track))
        leaps = np.flatnonzero(-np.diff(track[known]) > JUMP_ST)
        for leap in leaps[::-1]:
            after = int(known[leap]) + 1
            if after * HOP_S > LONGEST_RATTLE_S:
                continue
            inside, rest = _moves_db(steps[: 2 * after]), _moves_db(steps[2 * after :])
            # If all of it moves this much, it is a trill or water, and jumps like a voice.
            if inside >= RATTLE_DB and inside >= RATTLE_OVER_REST * rest:
                track[:after] = np.nan
                break
    return clean


def _moves_db(levels: Array) -> float:
    """Return how far a level moves from moment to moment, slower changes left out."""
    if levels.size < 2:
        return 0.0
    slow = np.convolve(np.pad(levels, 20, mode="edge"), np.ones(41) / 41, mode="valid")
    return float(np.ptp(np.percentile(levels - slow, (10, 90))))


def _without_false_ends(semitones: Array) -> Array:
    """Return the track without scraps at either end that a leap parts from the rest.

    The first pulses of a low voice ring at a formant, and so do the last: no glide starts there.
    """
    clean = semitones.copy()
    reach = round(FALSE_END_S / HOP_S)
    for track in (clean, clean[::-1]):
        known = np.flatnonzero(np.isfinite(track))
        edge = track[known[: reach + 1]]
        leaps = np.flatnonzero(np.abs(np.diff(edge)) > FALSE_END_ST)
        if leaps.size:
            track[: known[leaps[-1]] + 1] = np.nan
    return clean


def _extremes(semitones: Array) -> tuple[float, float]:
    """Return the lowest and highest pitch that the voice stays at or beyond for 50 ms."""
    width = round(LASTING_S / HOP_S)
    windows = np.lib.stride_tricks.sliding_window_view(semitones, width)
    whole = windows[np.isfinite(windows).all(axis=1)]
    if not len(whole):
        known = semitones[np.isfinite(semitones)]
        return float(known.min()), float(known.max())
    return float(whole.max(axis=1).min()), float(whole.min(axis=1).max())


def _segments(semitones: Array, start: int) -> tuple[Segment, ...]:
    at = np.arange(semitones.size)
    known = np.isfinite(semitones)
    track = scipy.ndimage.median_filter(
        np.interp(at, at[known], semitones[known]), 5, mode="nearest"
    )
    width = round(SLOPE_OVER_S / HOP_S)
    slope = scipy.ndimage.uniform_filter1d(np.gradient(track, HOP_S), width, mode="nearest")
    sign = np.where(np.abs(slope) < STAYING_ST_PER_S, 0, np.sign(slope)).astype(int)
    pieces: list[list[int]] = []  # [sign, first, after]
    for index, value in enumerate(sign.tolist()):
        if pieces and pieces[-1][0] == value:
            pieces[-1][2] = index + 1
        else:
            pieces.append([value, index, index + 1])
    return tuple(
        Segment(
            kind={0: Movement.STEADY, 1: Movement.UP, -1: Movement.DOWN}[value],
            start_s=(start + first) * HOP_S,
            end_s=(start + after) * HOP_S,
            from_hz=_hz(float(track[first])),
            to_hz=_hz(float(track[after - 1])),
        )
        for value, first, after in _merge_scraps(pieces, track)
    )


def _merge_scraps(pieces: list[list[int]], track: Array) -> list[list[int]]:
    """Merge segments that are too short into their neighbours, and call small movements staying."""
    for piece in pieces:
        if abs(track[piece[2] - 1] - track[piece[1]]) < SHORTEST_MOVE_ST:
            piece[0] = 0
    pieces = _join_neighbours(pieces)
    shortest = round(SHORTEST_SEGMENT_S / HOP_S)
    while len(pieces) > 1:
        scrap = min(range(len(pieces)), key=lambda at: pieces[at][2] - pieces[at][1])
        if pieces[scrap][2] - pieces[scrap][1] >= shortest:
            break
        pieces[scrap][0] = pieces[scrap - 1 if scrap else 1][0]
        pieces = _join_neighbours(pieces)
    return pieces


def _join_neighbours(pieces: list[list[int]]) -> list[list[int]]:
    """Return neighbours of one kind as one."""
    joined: list[list[int]] = []
    for piece in pieces:
        if joined and joined[-1][0] == piece[0]:
            joined[-1][2] = piece[2]
        else:
            joined.append(piece)
    return joined


def _move_sizes(semitones: Array) -> list[float]:
    """Return the size of each move between turns, up positive; a slow glide is one move."""
    known = semitones[np.isfinite(semitones)]
    track = scipy.ndimage.median_filter(known, min(WAY_OVER, known.size), mode="nearest")
    ways: list[float] = []
    turn = low = high = float(track[0])
    going = 0
    for value in map(float, track):
        low, high = min(low, value), max(high, value)
        if going >= 0 and value <= high - TURN_ST:  # It rose, and has turned.
            ways += [high - turn] if high - turn >= TURN_ST else []
            turn, low, going = high, value, -1
        elif going <= 0 and value >= low + TURN_ST:
            ways += [low - turn] if turn - low >= TURN_ST else []
            turn, high, going = low, value, 1
    last = high if going > 0 else low
    return [*ways, last - turn] if abs(last - turn) >= TURN_ST else ways


def _direction(moves: list[Segment], ways: list[float]) -> Direction:
    kinds = {segment.kind for segment in moves}
    if not kinds:  # Slower than a movement, but it changes the pitch in the end.
        kinds = {Movement.UP if way > 0 else Movement.DOWN for way in ways}
    if kinds == {Movement.UP}:
        return Direction.UP
    if kinds == {Movement.DOWN}:
        return Direction.DOWN
    return Direction.UP_AND_DOWN if kinds else Direction.STEADY


def _cycles(moves: list[Segment]) -> int:
    turns = sum(one.kind is not other.kind for one, other in itertools.pairwise(moves))
    return (turns + 1) // 2


def _edge_of_leap(semitones: Array, place: int, way: int, most: int) -> int:
    """Return the frame where a jump begins or ends, searched from its steepest step."""
    for _ in range(most):
        following = place + way
        if not 0 <= following < semitones.size:
            break
        if not abs(semitones[following] - semitones[place]) > DRAWN_OUT_ST:
            break
        place = following
    return place


def _jumps(semitones: Array, start: int) -> tuple[Jump, ...]:
    """Return jumps between voiced frames 50 ms apart, each reported once, at its steepest place."""
    apart = round(JUMP_WITHIN_S / HOP_S)
    if semitones.size <= apart:
        return ()
    change = semitones[apart:] - semitones[:-apart]
    with np.errstate(invalid="ignore"):
        leaping = np.abs(change) > JUMP_ST
    # A fast siren also covers two semitones in 50 ms; a jump does so within two frames of them.
    step = np.abs(np.diff(semitones))
    found = []
    for first, after in runs(leaping, joining=2):
        inside = step[first : after + apart - 1]
        if not np.isfinite(inside).any():
            continue
        place = first + int(np.nanargmax(inside))
        # The 40 ms window spreads the jump over a few frames, and more if the mouth rings.
        place_before = max(0, min(_edge_of_leap(semitones, place, -1, apart) - 1, place - 2))
        drawn_out = max(_edge_of_leap(semitones, place + 1, 1, apart) + 1, place + 3)
        place_after = min(drawn_out, semitones.size - 1)
        before, later = semitones[place_before], semitones[place_after]
        total = later - before if np.isfinite(later - before) else change[first]
        before = before if np.isfinite(before) else semitones[place]
        if abs(total) > JUMP_ST:
            found.append(Jump((start + place + 1) * HOP_S, _hz(float(before)), float(total)))
    return tuple(found)
