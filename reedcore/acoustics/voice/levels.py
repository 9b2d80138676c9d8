"""Level of a stretch of frames: windows of 125 ms, mean, slope and fall at the end.

0 dBFS is the RMS of a full-scale sine. Means are energetic: of the powers, not of the decibels.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import nan
from typing import Any

import numpy as np
from numpy.typing import NDArray

from reedcore.errors import NoSteadySound

from ..middle import shares_of
from ..runs import Mask
from ..settings import ENERGY_STEP_S, HOP_S, LEVEL_WINDOW_STEPS
from ..track.frames import Array, Frames, dbfs


@dataclass(frozen=True, slots=True)
class LevelFigures:
    """Level over the middle of a hold. NaN where there are too few windows.

    Attributes:
        mean_dbfs: energetic mean.
        sd_db: about the least-squares line through the windows.
        slope_db_per_s: of that line.
        end_fall_db: mean of the first two thirds less mean of the last third.
    """

    mean_dbfs: float
    sd_db: float
    slope_db_per_s: float
    end_fall_db: float


def smoothed_dbfs(frames: Frames) -> Array:
    """Return level about each frame over 125 ms, shorter at the two ends of the track."""
    energy = frames.energy.reshape(-1)
    if not energy.size:
        return np.zeros(0)
    total = np.concatenate([[0.0], np.cumsum(energy)])
    middles = np.arange(len(frames)) * 2 + 1
    first = np.clip(middles - LEVEL_WINDOW_STEPS // 2, 0, energy.size)
    last = np.clip(middles + LEVEL_WINDOW_STEPS // 2 + 1, 0, energy.size)
    # A running total loses the last digits: digital silence must not become negative.
    return dbfs(np.maximum((total[last] - total[first]) / (last - first), 0.0))


def window_levels(middle: Frames) -> Array:
    """Return level of each whole 125 ms window of the stretch, one after the other."""
    energy = middle.energy.reshape(-1)
    count = energy.size // LEVEL_WINDOW_STEPS
    windows = energy[: count * LEVEL_WINDOW_STEPS].reshape(count, LEVEL_WINDOW_STEPS)
    return dbfs(windows.mean(axis=1))


def level_figures(middle: Frames) -> LevelFigures:
    """Return the level measures of a hold's middle."""
    levels = window_levels(middle)
    levels = levels[np.isfinite(levels)]
    if not levels.size:
        return LevelFigures(nan, nan, nan, nan)
    mean = energetic_mean(levels)
    if levels.size < 4:  # A line through fewer points says nothing about the voice.
        return LevelFigures(mean, nan, nan, nan)
    times = np.arange(levels.size) * LEVEL_WINDOW_STEPS * ENERGY_STEP_S
    slope, base = np.polyfit(times, levels, 1)
    residual = levels - (base + slope * times)
    sd = float(np.sqrt(np.sum(residual**2) / (levels.size - 2)))
    cut = round(levels.size * 2 / 3)
    fall = energetic_mean(levels[:cut]) - energetic_mean(levels[cut:])
    return LevelFigures(mean, sd, float(slope), fall)


def energetic_mean(levels_db: Array) -> float:
    """Return the level of the mean power of some levels, in dB."""
    return float(10.0 * np.log10(np.mean(10.0 ** (levels_db / 10.0))))


#: A level step: at least this much within two windows, and even before and after; a softening voice
#: is not.
STEP_DB, STEP_EVEN_DB, STEP_BETWEEN, STEP_SIDE = 8.0, 1.2, 1, 4


def has_level_step(middle: Frames) -> bool:
    """Return whether the level drops suddenly once and is even before and after the drop."""
    levels = window_levels(middle)
    levels = levels[np.isfinite(levels)]
    for at in range(STEP_SIDE, levels.size - STEP_SIDE - STEP_BETWEEN):
        before, after = levels[:at], levels[at + STEP_BETWEEN :]
        if np.median(before) - np.median(after) < STEP_DB:
            continue
        if np.std(before) < STEP_EVEN_DB and np.std(after) < STEP_EVEN_DB:
            return True
    return False


#: A calibration sound stands this far above the room, and counts while within this of its full
#: level.
OUT_OF_ROOM_DB, FULL_WITHIN_DB = 10.0, 3.0


def steady_level_dbfs(frames: Frames) -> float:
    """Return the level of the sound above the room. A tone is not a hold, but it can calibrate.

    Raises:
        NothingSteady: nothing is 10 dB over the quietest.
    """
    levels = np.maximum(smoothed_dbfs(frames), -120.0)
    return energetic_mean(levels[_steady(levels)])


def steady_samples(frames: Frames, samples: NDArray[Any], rate_hz: int) -> NDArray[Any]:
    """Return those samples of a recording that :func:`steady_level_dbfs` is the level of.

    Raises:
        NothingSteady: as above.
    """
    steady = _steady(np.maximum(smoothed_dbfs(frames), -120.0))
    at = np.minimum((np.arange(len(samples)) / rate_hz / HOP_S).astype(int), len(steady) - 1)
    return np.asarray(samples[steady[at]])


def _steady(levels: Array) -> Mask:
    quiet, loud = np.percentile(levels, (5, 90)) if levels.size else (0.0, 0.0)
    if loud - quiet < OUT_OF_ROOM_DB:
        raise NoSteadySound(needed_db=OUT_OF_ROOM_DB)
    return np.asarray(levels >= loud - FULL_WITHIN_DB)


#: The end of a hold is uncertain between these levels above the room (definition).
UNSURE_FROM_DB, UNSURE_TO_DB = 6.0, 3.0
_LOOK_BACK, _LOOK_ON = 300, 100


def end_uncertainty_s(frames: Frames, end: int) -> float:
    """Return the time from room + 6 dB to room + 3 dB at a hold's end, s; NaN without a room.

    Args:
        end: the frame after the hold's last one.
    """
    levels = smoothed_dbfs(frames)
    room = floor_of(levels)
    if not np.isfinite(room):
        return nan
    near = levels[max(0, end - _LOOK_BACK) : end + _LOOK_ON]
    above_six = np.flatnonzero(near >= room + UNSURE_FROM_DB)
    if not above_six.size:
        return nan
    after = near[above_six[-1] :]
    under_three = np.flatnonzero(after < room + UNSURE_TO_DB)
    return float(under_three[0]) * HOP_S if under_three.size else nan


@dataclass(frozen=True, slots=True)
class LevelShape:
    """A swell, a fade or both, as a line of two pieces.

    Attributes:
        rise_db, fall_db: from the start to the peak, and from the peak to the end.
        peak_s: when, seconds after the start of the stretch.
        rms_db: how far the level lies from the two-piece line.
    """

    rise_db: float
    fall_db: float
    peak_s: float
    rms_db: float


def level_shape(middle: Frames) -> LevelShape | None:
    """Return the best two-piece line of a hold's middle; None for fewer than five windows."""
    levels = window_levels(middle)
    levels = levels[np.isfinite(levels)]
    if levels.size < 5:
        return None
    at = np.arange(levels.size, dtype=np.float64)
    rms, knee, weights = min(
        (_two_pieces(at, levels, knee) for knee in range(levels.size)), key=lambda fit: fit[0]
    )
    window_s = LEVEL_WINDOW_STEPS * ENERGY_STEP_S
    return LevelShape(
        rise_db=float(weights[1] * knee),
        fall_db=float(-weights[2] * (levels.size - 1 - knee)),
        peak_s=(knee + 0.5) * window_s,
        rms_db=rms,
    )


def _two_pieces(at: Array, levels: Array, knee: int) -> tuple[float, int, Array]:
    """Return the RMS from the best line with a bend at ``knee``, the knee, and start and slopes of
    the line."""
    basis = np.stack([np.ones_like(at), np.minimum(at, knee), np.maximum(at - knee, 0)], axis=1)
    weights = np.linalg.lstsq(basis, levels, rcond=None)[0]
    return float(np.sqrt(np.mean((levels - basis @ weights) ** 2))), knee, weights


#: Minimum difference between the loudest part and the quietest tenth before the latter counts as
#: the room.
ROOM_CONTRAST_DB = 12.0
#: A long hold leaves less than a tenth to the room: then use the quietest 200 ms, if they lie so
#: far below the rest that no swelling voice would.
ROOM_LEAST_FRAMES, ROOM_SHORT_CONTRAST_DB = 20, 20.0


def floor_of(levels: Array) -> float:
    """Return level of the room; −inf where the recording has no quiet part to tell it from."""
    if not levels.size:
        return -np.inf
    known = np.maximum(levels, -200.0)
    quiet, loud = shares_of(known, 0.10, 0.95)
    if loud - quiet >= ROOM_CONTRAST_DB:
        return float(quiet)
    if known.size > ROOM_LEAST_FRAMES:
        quietest = np.partition(known, ROOM_LEAST_FRAMES)[ROOM_LEAST_FRAMES]
        if loud - quietest >= ROOM_SHORT_CONTRAST_DB:
            return float(quietest)
    return -np.inf
