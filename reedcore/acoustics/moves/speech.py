"""Spoken lines: pauses, breath groups, and how level and pitch move over them."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from math import nan

import numpy as np

from ..holds.stretches import FAINTEST_DBFS, sounding_frames
from ..runs import Mask, runs
from ..settings import ABOVE_FLOOR_DB, HOP_S
from ..track.frames import Array, Frames
from ..voice.levels import energetic_mean, floor_of, smoothed_dbfs

PAUSE_S, BREATH_PAUSE_S = 0.25, 0.50
#: Air that is heard for so long without a voice is a breath; over so few frames it is one still;
#: and a sound that lies nearly all over 2 kHz is an /s/, however long, and one that lies nearly all
#: under it the creak at the end of a sentence.
BREATH_HEARD_S, BREATH_BRIDGED, SIBILANT_SHARE, CREAK_SHARE = 0.28, 4, 0.93, 0.15


@dataclass(frozen=True, slots=True)
class Pause:
    """A silence of at least 0.25 s between two sounds."""

    start_s: float
    end_s: float


@dataclass(frozen=True, slots=True)
class BreathGroup:
    """What is said between two pauses of at least 0.5 s.

    Attributes:
        level_fall_db: mean of the first third less mean of the last, voiced frames only.
    """

    start_s: float
    end_s: float
    level_fall_db: float


@dataclass(frozen=True, slots=True)
class Speech:
    """The whole of it; ranges run from the 10th to the 90th percentile of voiced frames."""

    voiced_s: float
    pauses: tuple[Pause, ...]
    groups: tuple[BreathGroup, ...]
    breaths_per_min: float
    f0_median_hz: float
    f0_range_semitones: float
    level_median_dbfs: float
    level_range_db: float


def speech_of(frames: Frames) -> Speech | None:
    """The measures of spoken lines; None where nobody spoke."""
    voiced, _ = sounding_frames(frames)
    if np.count_nonzero(voiced) * HOP_S < 0.2:
        return None
    levels = smoothed_dbfs(frames)
    loud = frames.level_dbfs > max(floor_of(levels) + ABOVE_FLOOR_DB, FAINTEST_DBFS)
    # a consonant sounds too, but noise alone is not speech: from the first voice to the last
    breaths = _breaths(loud, voiced, frames)
    said = runs((loud | voiced) & ~breaths, joining=round(PAUSE_S / HOP_S))
    said = [run for run in said if voiced[slice(*run)].any()]
    pauses = tuple(
        Pause(one[1] * HOP_S, other[0] * HOP_S) for one, other in itertools.pairwise(said)
    )
    groups = _groups(said, levels, voiced, breaths)
    length_s = groups[-1].end_s - groups[0].start_s
    semitones = 12.0 * np.log2(frames.pitch_hz[voiced])
    return Speech(
        voiced_s=float(np.count_nonzero(voiced)) * HOP_S,
        pauses=pauses,
        groups=groups,
        breaths_per_min=60.0 * len(groups) / length_s,
        f0_median_hz=float(np.median(frames.pitch_hz[voiced])),
        f0_range_semitones=_spread(semitones),
        level_median_dbfs=float(np.median(levels[voiced])),
        level_range_db=_spread(levels[voiced]),
    )


def _breaths(loud: Mask, voiced: Mask, frames: Frames) -> Mask:
    """Where air is heard between two voices for longer than any consonant lasts."""
    found = np.zeros(len(loud), dtype=bool)
    for start, end in runs(loud & ~voiced, joining=BREATH_BRIDGED):
        long_enough = (end - start) * HOP_S >= BREATH_HEARD_S
        share = float(np.median(frames.hiss_share[start:end]))
        if long_enough and CREAK_SHARE < share < SIBILANT_SHARE:
            found[start:end] = True
    return found


def _groups(
    said: list[tuple[int, int]], levels: Array, voiced: Mask, breaths: Mask
) -> tuple[BreathGroup, ...]:
    groups: list[tuple[int, int]] = []
    for start, end in said:
        pause = slice(groups[-1][1], start) if groups else slice(0, 0)
        drawn = breaths[pause].any()
        if groups and not drawn and (start - groups[-1][1]) * HOP_S < BREATH_PAUSE_S:
            groups[-1] = (groups[-1][0], end)
        else:
            groups.append((start, end))
    return tuple(
        BreathGroup(start * HOP_S, end * HOP_S, _fall(levels[start:end][voiced[start:end]]))
        for start, end in groups
    )


def _fall(levels: Array) -> float:
    if levels.size < 9:
        return nan
    third = levels.size // 3
    return energetic_mean(levels[:third]) - energetic_mean(levels[-third:])


def _spread(values: Array) -> float:
    low, high = np.percentile(values, (10, 90))
    return float(high - low)
