"""Pitch candidates of a frame: the peaks of its correlation, with the evidence against each.

Written as one loop over frames, so that a figure does not hang on how many come at once.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..compiled import Loop
from ..settings import HIGHEST_PITCH_HZ, LOWEST_PITCH_HZ, WORKING_RATE_HZ

Array = NDArray[np.float64]

#: Candidates per frame: the period, its double and a competing formant fit into four.
CANDIDATES = 4
#: Minimum correlation of a pitch candidate.
WEAKEST = 0.25
#: Preference for the shorter of two equal periods, per octave; otherwise every double ties.
OCTAVE_COST = 0.06
#: Penalty for long lags: the window leaves little of them, so noise is raised with the peak.
LONG_LAG_COST = 0.015
#: Two candidates an octave apart: how clear a gap between the multiples is, in a clean voice and
#: with noise; what it costs the overtone, and what its absence costs the double.
CLEAR_GAP, CLEAR_GAP_IN_NOISE = 0.03, 0.3
#: Narrow peaks look lower if they fall between two samples.
CLEAR_GAP_IF_SHARP = 0.4
OVERTONE_COST, DOUBLE_COST = 0.25, 0.15
MULTIPLES_FROM, MULTIPLES_TO = 0.0055 * WORKING_RATE_HZ, 0.016 * WORKING_RATE_HZ
MOST_MULTIPLES = 16
#: A peak at a shorter lag, from 400 Hz up, is only noise on a longer period if that is almost as
#: high, and the line drops by less than this share between the multiples of the peak.
RIPPLES_TO, RIPPLE_UNDER, RIPPLE_DEPTH = WORKING_RATE_HZ // 400, 0.9, 0.2
#: The pitch is read from the last of its periods within this lag, searched this far around it.
LATER_PERIODS_S, LATER_SEARCH = 0.012, 5
#: A later peak below this share of the first is not a multiple of it.
LATER_LEAST = 0.6
LATER_LAG = LATER_PERIODS_S * WORKING_RATE_HZ

SHORTEST_LAG = int(WORKING_RATE_HZ / HIGHEST_PITCH_HZ)
LONGEST_LAG = int(np.ceil(WORKING_RATE_HZ / LOWEST_PITCH_HZ))
_RATE = float(WORKING_RATE_HZ)


def lag_cost(window_correlation: NDArray[np.float32]) -> Array:
    """Return a penalty for each lag, independent of its peak; from :data:`SHORTEST_LAG` on.

    Args:
        window_correlation: the taper's own, by lag, 1 at 0.
    """
    lags = np.arange(SHORTEST_LAG, LONGEST_LAG + 1)
    left = window_correlation[lags]
    cost = OCTAVE_COST * np.log2(lags / SHORTEST_LAG) + LONG_LAG_COST * (1.0 / left - 1.0)
    return np.asarray(cost, dtype=np.float64)


def candidates_of(
    correlation: NDArray[np.float32], window: NDArray[np.float32], cost: Array
) -> tuple[Array, Array, Array]:
    """Return the highest local maxima of n frames, best first, interpolated between lags.

    Args:
        correlation: by lag, ``(n, LONGEST_LAG + 2)`` or more.
        window: the taper's own, ``(LONGEST_LAG + 2,)``, which each is divided by.
        cost: see :func:`lag_cost`.

    Returns:
        Of ``(n, CANDIDATES)`` each: Hz (NaN where there are fewer), height 0–1, and the height less
        what speaks against it.
    """
    shape = (len(correlation), CANDIDATES)
    hz, strength, worth = np.full(shape, np.nan), np.zeros(shape), np.zeros(shape)
    _FILLED(correlation, window, cost, hz, strength, worth)
    return hz, strength, worth


def _fill(
    correlation: NDArray[np.float32],
    window: NDArray[np.float32],
    cost: Array,
    hz: Array,
    strength: Array,
    worth: Array,
) -> None:
    """Fill ``hz``, ``strength`` and ``worth`` frame by frame."""
    columns = np.zeros(CANDIDATES, np.int64)
    scores = np.zeros(CANDIDATES)
    lags = np.zeros(CANDIDATES)
    against = np.zeros(CANDIDATES)
    near = np.zeros(MOST_MULTIPLES)
    line = np.zeros(window.size, np.float32)
    for row in range(correlation.shape[0]):
        whole = correlation[row, 0]
        if whole <= 0:
            continue
        for lag in range(window.size):
            line[lag] = correlation[row, lag] / whole / window[lag]
        count, far = 0, 0.0
        for lag in range(RIPPLES_TO, LONGEST_LAG + 1):
            far = max(far, line[lag])
        for lag in range(SHORTEST_LAG, LONGEST_LAG + 1):
            middle = line[lag]
            if not (middle > WEAKEST and middle > line[lag - 1] and middle >= line[lag + 1]):
                continue
            if lag < RIPPLES_TO and far >= RIPPLE_UNDER * middle and _is_ripple(line, lag):
                continue
            score = cost[lag - SHORTEST_LAG] - min(middle, 1.0)
            place = count
            while place > 0 and score < scores[place - 1]:
                if place < CANDIDATES:
                    scores[place], columns[place] = scores[place - 1], columns[place - 1]
                place -= 1
            if place < CANDIDATES:
                scores[place], columns[place] = score, lag
                count = min(count + 1, CANDIDATES)
        for at in range(count):
            lag = columns[at]
            low, middle, high = line[lag - 1], line[lag], line[lag + 1]
            shift = 0.5 * (low - high) / (low - 2.0 * middle + high)
            height = max(middle - 0.25 * (low - high) * shift, 0.0)
            # A partly filled window gives peaks above 1: treat them like peaks equally far below 1.
            if height > 1.0:
                height = 1.0 / height
            lags[at] = _refine_lag(line, lag + shift, height)
            strength[row, at] = height
        # Evidence against each candidate beside one whose lag is a multiple.
        against[:] = 0.0
        for short in range(count):
            for long in range(count):
                ratio = lags[long] / lags[short]
                times = int(np.rint(ratio))
                if not (2 <= times <= 4 and abs(ratio - times) < 0.04 * times):
                    continue
                gap, clear = _depth_between_multiples(line, lags[long] / times, times, near)
                if gap > clear:
                    against[short] = OVERTONE_COST
                elif gap < 0.5 * clear and against[long] == 0.0:
                    against[long] = DOUBLE_COST
        for at in range(count):
            hz[row, at] = _RATE / lags[at]
            worth[row, at] = strength[row, at] - cost[columns[at] - SHORTEST_LAG] - against[at]


def _is_ripple(line: NDArray[np.float32], lag: int) -> bool:
    """Return whether a short peak is noise on the back of a long period: between its multiples the
    line hardly sinks under the straight one through them."""
    sunk, count = 0.0, 0
    for multiple in range(1, MOST_MULTIPLES + 1):
        at = multiple * lag
        if at < MULTIPLES_FROM or at + lag > MULTIPLES_TO:
            continue
        step = (line[at + lag] - line[at]) / lag
        deepest = 0.0
        for inside in range(1, lag):
            deepest = max(deepest, line[at] + step * inside - line[at + inside])
        sunk += deepest
        count += 1
    return count > 0 and sunk < RIPPLE_DEPTH * line[lag] * count


def _refine_lag(line: NDArray[np.float32], lag: float, height: float) -> float:
    """Return a candidate's lag, read off its highest multiple within 12 ms.

    An error of a sample is shared by that many periods; and breath that a resonance has coloured
    repeats itself once but not three times, so it no longer pulls the peak towards the resonance.
    """
    periods = max(1.0, np.floor(LATER_LAG / lag))
    if periods <= 1.0:
        return lag
    middle = int(np.rint(periods * lag))
    last = line.size - 1
    best, top = 0, -np.inf
    for step in range(-LATER_SEARCH, LATER_SEARCH + 1):
        value = line[min(middle + step, last)]
        if value > top:
            top, best = value, step
    if best == -LATER_SEARCH or best == LATER_SEARCH:
        return lag
    low, mid, high = (
        line[min(middle + best - 1, last)],
        line[min(middle + best, last)],
        line[min(middle + best + 1, last)],
    )
    shift = 0.5 * (low - high) / (low - 2.0 * mid + high)
    if mid > LATER_LEAST * height and abs(shift) <= 1.0:
        return float((middle + best + shift) / periods)
    return lag


def _depth_between_multiples(
    line: NDArray[np.float32], lag: float, times: int, near: Array
) -> tuple[float, float]:
    """Return how much lower the correlation is between the multiples of a lag's ``times``-fold than
    at them, and how much of that is clear.

    A true period repeats itself there as well, and the longer lag is its double; a strong overtone
    or a formant does not, and the shorter lag is theirs. Multiples within 5.5 to 16 ms are looked
    at, where breath that a formant has coloured no longer repeats itself. The gap is NaN where too
    few lie in reach, and speaks against neither.
    """
    sharp, reached = 0.0, 0
    for multiple in range(1, MOST_MULTIPLES + 1):
        at = lag * multiple
        place = min(max(int(np.rint(at)), 2), line.size - 3)
        if line[place - 1] >= line[place] and line[place - 1] >= line[place + 1]:
            place -= 1
        elif line[place + 1] > line[place]:
            place += 1
        low, mid, high = line[place - 1], line[place], line[place + 1]
        curve = 2.0 * mid - low - high
        # Between two samples a peak is twice as far up as a parabola gives: it is not a parabola.
        tip = (high - low) ** 2 / (4.0 * max(curve, 1e-6)) if curve > 0 else 0.0
        near[multiple - 1] = min(mid + min(tip, 0.25 * curve), 1.0)
        if at <= MULTIPLES_TO:
            sharp += max(curve, 0.0)
            reached += 1
    sharp /= max(reached, 1)
    # Compare with the line through the neighbouring multiples, because peaks fall with the lag.
    gap, level, count = 0.0, 0.0, 0
    for multiple in range(1, MOST_MULTIPLES + 1):
        into = multiple % times
        below = multiple - into
        above = below + times
        if into == 0 or below == 0 or above > MOST_MULTIPLES:
            continue
        if lag * below < MULTIPLES_FROM or lag * above > MULTIPLES_TO:
            continue
        before, after = near[below - 1], near[above - 1]
        straight = before + (after - before) * into / times
        gap += straight - near[multiple - 1]
        level += straight
        count += 1
    if count == 0:
        return np.nan, 0.0
    clear = CLEAR_GAP + CLEAR_GAP_IN_NOISE * (1.0 - level / count) + CLEAR_GAP_IF_SHARP * sharp
    return gap / count, clear


_FILLED = Loop(_fill, Loop(_refine_lag), Loop(_depth_between_multiples), Loop(_is_ripple))
