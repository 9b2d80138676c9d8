"""Level of a stretch of frames: windows of 125 ms, mean, slope and what the end does.

0 dBFS is the RMS of a full-scale sine. Means are energetic: of the powers, not of the decibels.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import nan

import numpy as np

from .frames import Array, Frames, dbfs
from .settings import ENERGY_STEP_S, LEVEL_WINDOW_STEPS


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
    """Level about each frame over 125 ms, shorter at the two ends of the track."""
    energy = frames.energy.reshape(-1)
    if not energy.size:
        return np.zeros(0)
    total = np.concatenate([[0.0], np.cumsum(energy)])
    middles = np.arange(len(frames)) * 2 + 1
    first = np.clip(middles - LEVEL_WINDOW_STEPS // 2, 0, energy.size)
    last = np.clip(middles + LEVEL_WINDOW_STEPS // 2 + 1, 0, energy.size)
    # a running total loses the last digits, and digital silence must not come out below nothing
    return dbfs(np.maximum((total[last] - total[first]) / (last - first), 0.0))


def window_levels(middle: Frames) -> Array:
    """Level of each whole 125 ms window of the stretch, one after the other."""
    energy = middle.energy.reshape(-1)
    count = energy.size // LEVEL_WINDOW_STEPS
    return dbfs(energy[: count * LEVEL_WINDOW_STEPS].reshape(count, -1).mean(axis=1))


def level_figures(middle: Frames) -> LevelFigures:
    """The level measures of a hold's middle."""
    levels = window_levels(middle)
    levels = levels[np.isfinite(levels)]
    if not levels.size:
        return LevelFigures(nan, nan, nan, nan)
    mean = energetic_mean(levels)
    if levels.size < 4:  # a line through fewer says nothing about the voice
        return LevelFigures(mean, nan, nan, nan)
    times = np.arange(levels.size) * LEVEL_WINDOW_STEPS * ENERGY_STEP_S
    slope, base = np.polyfit(times, levels, 1)
    residual = levels - (base + slope * times)
    sd = float(np.sqrt(np.sum(residual**2) / (levels.size - 2)))
    cut = round(levels.size * 2 / 3)
    fall = energetic_mean(levels[:cut]) - energetic_mean(levels[cut:])
    return LevelFigures(mean, sd, float(slope), fall)


def energetic_mean(levels_db: Array) -> float:
    """The level of the mean power of some levels, in dB."""
    return float(10.0 * np.log10(np.mean(10.0 ** (levels_db / 10.0))))
