"""Where a voice was held: start, end, breaks, and every measure of that stretch.

A hold starts at the first periodic or rough instant of a run and ends at the last one before 400 ms
with neither. Its duration is end − start, breaks included.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from math import isfinite, nan

import numpy as np
from numpy.typing import NDArray

from reedcore.pitch import cents_between

from .frames import Array, Frames
from .levels import LevelFigures, level_figures
from .settings import (
    ABOVE_FLOOR_DB,
    BREAK_DEPTH_DB,
    BREAK_LONGEST_S,
    BREAK_SHORTEST_S,
    HOLD_GAP_S,
    HOP_S,
)
from .steadiness import PitchFigures, middle_of, on_pitch_share, pitch_figures, steady_seconds

Mask = NDArray[np.bool_]

#: How much louder than the quietest tenth the loudest part must be before the former is the room.
ROOM_CONTRAST_DB = 12.0
#: Nothing a microphone gives below this is sound (16-bit noise lies near −98 dBFS).
FAINTEST_DBFS = -80.0
#: Further under the hold's median than this is its echo, not the voice.
FADED_DB = 40.0
#: A run of which less is periodic than this is not a held voice.
LEAST_VOICED = 0.3
#: Mains hum keeps its frequency as no voice can.
HUM_HZ = (50.0, 60.0, 100.0, 120.0)
HUM_WITHIN_CENTS, HUM_SPREAD_CENTS = 20.0, 3.0
#: On pitch (settings of the clinic, these are the usual ones).
ON_PITCH_CENTS, ON_PITCH_SHARE = 50.0, 0.80


class HoldKind(StrEnum):
    """Voice, or hiss."""

    VOICED = "voiced"
    HISS = "hiss"


@dataclass(frozen=True, slots=True)
class Break:
    """30–400 ms inside a hold with neither periodicity nor level."""

    start_s: float
    end_s: float


@dataclass(frozen=True, slots=True)
class Hold:
    """One held sound. Seconds from the start of the recording; NaN is "not measured".

    Attributes:
        steady_s: see :func:`reedcore.acoustics.steadiness.steady_seconds`.
        target_error_cents: median pitch against the note, NaN without a note or a pitch.
        end_error_cents: the same over the last third of the hold.
        on_pitch_share: share of periodic frames within ±50 cents of the note.
        voiced_fraction: periodic frames ÷ frames.
    """

    kind: HoldKind
    start_s: float
    end_s: float
    steady_s: float
    pitch: PitchFigures
    level: LevelFigures
    target_error_cents: float
    end_error_cents: float
    on_pitch_share: float
    voiced_fraction: float
    breaks: tuple[Break, ...]

    @property
    def duration_s(self) -> float:
        """From start to end, breaks included."""
        return self.end_s - self.start_s

    @property
    def on_pitch(self) -> bool | None:
        """Whether it was on the note; None where no note was asked for or no pitch was found."""
        if not isfinite(self.target_error_cents):
            return None
        return (
            abs(self.target_error_cents) <= ON_PITCH_CENTS and self.on_pitch_share >= ON_PITCH_SHARE
        )

    def frame_slice(self) -> slice:
        """Its frames in the track it was found in."""
        return slice(round(self.start_s / HOP_S), round(self.end_s / HOP_S))


def find_holds(
    frames: Frames, *, target_hz: float | None = None, min_hold_s: float = 1.0
) -> tuple[Hold, ...]:
    """Every held voice of at least ``min_hold_s``, in order of time. None found is an answer."""
    return tuple(
        _measured(frames[start:end], start, target_hz)
        for start, end in held_stretches(frames, min_hold_s=min_hold_s)
    )


def held_stretches(frames: Frames, *, min_hold_s: float) -> list[tuple[int, int]]:
    """The holds as (first frame, frame after the last), unmeasured."""
    floor = voice_band_floor(frames)
    return [
        (start, end)
        for start, end in _stretches(frames, floor)
        if (end - start) * HOP_S >= min_hold_s and _is_voice(frames[start:end])
    ]


def voice_band_floor(frames: Frames) -> float:
    """Level of the room in the voice band; −inf where the recording has no quiet part."""
    levels = frames.voice_band_dbfs
    if not levels.size:
        return -np.inf
    levels = np.maximum(levels, -200.0)
    quiet, loud = np.percentile(levels, (10, 95))
    return float(quiet) if loud - quiet >= ROOM_CONTRAST_DB else -np.inf


def _stretches(frames: Frames, floor: float) -> list[tuple[int, int]]:
    levels = frames.voice_band_dbfs
    audible = levels > max(floor + ABOVE_FLOOR_DB, FAINTEST_DBFS)
    sounding = frames.periodic & audible
    stretches = []
    for start, end in runs(sounding, joining=round(HOLD_GAP_S / HOP_S)):
        # a window of 50 ms finds the pitch a little beyond the sound itself: in what rings after it
        median = np.median(levels[start:end][sounding[start:end]])
        own = sounding & (levels > median - FADED_DB)
        own[:start] = own[end:] = False
        places = np.flatnonzero(own)
        if places.size:
            first, after = int(places[0]), int(places[-1]) + 1
            stretches.append(_with_rough_ends(frames, own, audible, first, after))
    return _united(stretches)


def _with_rough_ends(
    frames: Frames, sounding: Mask, audible: Mask, start: int, end: int
) -> tuple[int, int]:
    """The run with the rough sound before and after it, found within 400 ms of it."""
    median = np.median(frames.voice_band_dbfs[start:end][sounding[start:end]])
    rough = audible & ~frames.periodic & (frames.voice_band_dbfs > median - BREAK_DEPTH_DB)
    rough &= frames.hiss_share < 0.5
    alike = sounding.copy()
    alike[: max(0, start)] = False
    alike[end:] = False
    for first, last in runs(alike | rough, joining=round(HOLD_GAP_S / HOP_S)):
        if first <= start < last:
            return first, last
    return start, end


def _united(stretches: list[tuple[int, int]]) -> list[tuple[int, int]]:
    """Overlapping stretches as one."""
    united: list[tuple[int, int]] = []
    for start, end in sorted(stretches):
        if united and start <= united[-1][1]:
            united[-1] = (united[-1][0], max(end, united[-1][1]))
        else:
            united.append((start, end))
    return united


def runs(mask: Mask, *, joining: int = 1) -> list[tuple[int, int]]:
    """Stretches of True as (first, after last); gaps shorter than ``joining`` are bridged."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], mask, [False]]).astype(np.int8)))
    found: list[tuple[int, int]] = []
    for start, end in edges.reshape(-1, 2).tolist():
        if found and start - found[-1][1] < joining:
            found[-1] = (found[-1][0], end)
        else:
            found.append((start, end))
    return found


def _is_voice(part: Frames) -> bool:
    """Not mains hum, and not a run of noise with a pitch here and there."""
    if np.mean(part.periodic) < LEAST_VOICED:
        return False
    pitch = pitch_figures(part)
    if not isfinite(pitch.median_hz):
        return False
    return not any(
        abs(cents_between(from_hz=hum, to_hz=pitch.median_hz)) < HUM_WITHIN_CENTS
        and pitch.spread_cents < HUM_SPREAD_CENTS
        for hum in HUM_HZ
    )


def _measured(part: Frames, start: int, target_hz: float | None) -> Hold:
    pitch = pitch_figures(part)
    error = end_error = share = nan
    if target_hz is not None and isfinite(pitch.median_hz):
        error = cents_between(from_hz=target_hz, to_hz=pitch.median_hz)
        end_pitch = pitch_figures(part[len(part) * 2 // 3 :]).median_hz
        if isfinite(end_pitch):
            end_error = cents_between(from_hz=target_hz, to_hz=end_pitch)
        share = on_pitch_share(part, target_hz=target_hz, window_cents=ON_PITCH_CENTS)
    return Hold(
        kind=HoldKind.VOICED,
        start_s=start * HOP_S,
        end_s=(start + len(part)) * HOP_S,
        steady_s=steady_seconds(part),
        pitch=pitch,
        level=level_figures(middle_of(part)),
        target_error_cents=error,
        end_error_cents=end_error,
        on_pitch_share=share,
        voiced_fraction=float(np.mean(part.periodic)),
        breaks=_breaks(part, start),
    )


def _breaks(part: Frames, start: int) -> tuple[Break, ...]:
    levels: Array = part.voice_band_dbfs
    median = np.median(levels[part.periodic])
    broken = ~part.periodic & (levels < median - BREAK_DEPTH_DB)
    found = []
    for first, after in runs(broken):
        if BREAK_SHORTEST_S <= (after - first) * HOP_S + 1e-9 < BREAK_LONGEST_S:
            found.append(Break((start + first) * HOP_S, (start + after) * HOP_S))
    return tuple(found)
