"""Jitter, shimmer and harmonics-to-noise ratio of a held voice.

Each period is as long as the shift at which the sound is most like itself, from its strongest peak
on (waveform matching: J Acoust Soc Am 1999;105:2866-2881). Jitter and shimmer are the usual local
ones: the mean difference of neighbouring periods, of their lengths and of their amplitudes, as a
share of the mean. An amplitude is the RMS about the peak. The ratio of harmonics to noise is
10·log10(r / (1 - r)), r the likeness of neighbouring periods (Proc Inst Phon Sci 1993;17:97-110).
"""

from __future__ import annotations

from dataclasses import dataclass
from math import isfinite, nan

import numpy as np
from numpy.typing import NDArray

from ..compiled import Loop
from ..settings import WORKING_RATE_HZ

Singles = NDArray[np.float32]
Doubles = NDArray[np.float64]

#: Search range of a period relative to the previous one.
SHORTER, LONGER = 0.8, 1.25
#: Larger differences between neighbours are a break of the voice, not jitter or shimmer.
PERIOD_FACTOR, AMPLITUDE_FACTOR = 1.3, 1.6
#: Minimum window in samples, for high voices (5 ms): fewer are too similar.
LEAST_WINDOW = 32
#: The amplitude of a period is taken over this share of it before and after its peak.
ABOUT_PEAK = 0.2
#: Maximum length taken from the middle of a hold, s.
LONGEST_S = 4.0
#: Minimum number of periods.
LEAST_PERIODS = 30
#: Lags on each side for interpolating the likeness, and its steps per sample.
_REACH, _STEPS = 6, 16
#: Maximum likeness, set by the bits of a sample.
_CLOSEST = 1.0 - 1e-6


@dataclass(frozen=True, slots=True)
class Perturbation:
    """NaN where there are too few periods.

    Attributes:
        jitter_percent: of neighbouring periods' lengths.
        shimmer_percent: of their amplitudes.
        hnr_db: harmonics to noise.
    """

    jitter_percent: float
    shimmer_percent: float
    hnr_db: float


UNKNOWN = Perturbation(nan, nan, nan)


def perturbation_of(samples: Singles, *, pitch_hz: float) -> Perturbation:
    """Return jitter, shimmer and harmonics to noise of a stretch that is held.

    Args:
        samples: a hold's middle at 16 kHz, shape ``(n,)``.
        pitch_hz: its median.
    """
    if not isfinite(pitch_hz):
        return UNKNOWN
    spare = samples.size - round(LONGEST_S * WORKING_RATE_HZ)
    if spare > 0:
        samples = samples[spare // 2 : samples.size - spare // 2]
    period = WORKING_RATE_HZ / pitch_hz
    most = int(samples.size / (SHORTER * period)) + 1
    lengths, amplitudes, likeness = np.empty((3, most))
    count = _PERIODS(samples, period, lengths, amplitudes, likeness)
    if count < LEAST_PERIODS:
        return UNKNOWN
    lengths, amplitudes, likeness = lengths[:count], amplitudes[:count], likeness[:count]
    alike = np.clip(likeness, 1e-6, _CLOSEST)
    return Perturbation(
        _local_percent(lengths, PERIOD_FACTOR),
        _local_percent(amplitudes, AMPLITUDE_FACTOR),
        float(np.mean(10.0 * np.log10(alike / (1.0 - alike)))),
    )


def _local_percent(values: Doubles, most: float) -> float:
    """Return the mean difference of neighbours as a percentage of the mean, breaks excluded."""
    ratio = values[1:] / values[:-1]
    near = (ratio < most) & (ratio > 1.0 / most)
    if np.count_nonzero(near) < LEAST_PERIODS // 2:
        return nan
    return float(100.0 * np.mean(np.abs(np.diff(values)[near])) / np.mean(values))


def _interpolate_peak(alike: Doubles, best: int) -> tuple[float, float]:
    """Return how far from lag ``best`` the likeness is highest, in lags, and that likeness.

    Between two lags it is interpolated as a band-limited signal."""
    top, found = alike[best], 0.0
    for step in range(-_STEPS + 1, _STEPS):
        if step == 0:
            continue
        shift, value = step / _STEPS, 0.0
        for near in range(-_REACH, _REACH + 1):
            off = shift - near
            taper = 0.5 + 0.5 * np.cos(np.pi * off / (_REACH + 1))
            value += alike[best + near] * taper * np.sin(np.pi * off) / (np.pi * off)
        if value > top:
            top, found = value, shift
    return found, top


def _rms_about(samples: Singles, middle: int, about: int) -> float:
    """Return the RMS under a raised cosine of ±``about`` samples about ``middle``."""
    weighed, weights = 0.0, 0.0
    for place in range(max(-about, -middle), about + 1):
        weight = 0.5 + 0.5 * np.cos(np.pi * place / (about + 1))
        weighed += weight * samples[middle + place] * samples[middle + place]
        weights += weight
    return float(np.sqrt(weighed / weights))


def _periods(
    samples: Singles, period: float, lengths: Doubles, amplitudes: Doubles, likeness: Doubles
) -> int:
    """Fill in the length, amplitude and likeness of each period, and return their number."""
    count, usual = 0, period
    at, peak = 0.0, np.float32(-1.0)
    for place in range(min(int(2.0 * period), samples.size)):
        if abs(samples[place]) > peak:
            peak, at = abs(samples[place]), float(place)
    at = max(0.0, at - 0.5 * period)  # The peak lies in the middle of the compared window.
    alike = np.zeros(int(LONGER * LONGER * LONGER * period) + 4 * _REACH + 8)
    while count < lengths.size:
        first, wide = round(at), max(round(usual), LEAST_WINDOW)
        shortest, longest = int(SHORTER * usual) - _REACH, int(LONGER * usual) + _REACH + 1
        shortest = max(shortest, 1)
        if first + longest + wide > samples.size or longest - shortest >= alike.size:
            break
        own = 0.0
        for place in range(wide):
            own += samples[first + place] * samples[first + place]
        best, top = -1, -1.0
        for lag in range(shortest, longest + 1):
            both, other = 0.0, 0.0
            for place in range(wide):
                there = samples[first + lag + place]
                both += samples[first + place] * there
                other += there * there
            value = both / np.sqrt(own * other + 1e-30)
            alike[lag - shortest] = value
            if value > top and shortest + _REACH <= lag <= longest - _REACH:
                best, top = lag, value
        if best < 0:
            break
        shift, top = _interpolate_peak(alike, best - shortest)
        length = best + shift
        lengths[count], likeness[count] = length, top
        middle, about = first + round(0.5 * usual), max(1, round(ABOUT_PEAK * usual))
        amplitudes[count] = _rms_about(samples, middle, about)
        count += 1
        at += length
        usual = min(max(length, period / LONGER), period * LONGER)
    return count


_PERIODS = Loop(_periods, Loop(_interpolate_peak), Loop(_rms_about))
