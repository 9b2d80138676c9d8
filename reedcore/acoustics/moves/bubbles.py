"""A voice in water. Bubbles keep no rate: they are known by how they move the level.

Water chops a sound as a whole. Vibrato, articulation and several singers at once move one part of
the spectrum against another; a rough voice moves its level from period to period as well, and a
tremor gathers at one rate.
"""

from __future__ import annotations

from math import nan

import numpy as np

from ..holds.breaks import Break, breaks_of, mark_break_frames
from ..middle import shares_of
from ..runs import Mask
from ..settings import HOP_S
from ..track.frames import Array, Frames
from ..voice.steadiness import middle_of
from .flutter import (
    FLUTTER_HZ,
    Flutter,
    bridge_gaps,
    flutter_of,
    mask_between,
    mask_near_multiples,
    moves,
    step_levels,
)

#: Bubbles: range of rates, minimum level movement (half peak to peak), and how much of it the bands
#: within 20 dB of the loudest may differ. Measured on bubbles of five rates and four
#: irregularities: at least 0.73 dB, at most a fifth apart; steady voices at most 0.82 dB, singers
#: and articulated holds at least two thirds apart.
BUBBLES_HZ, LEAST_COMMON_DB, APART, WITHIN_DB = (9.0, 40.0), 0.9, 0.2, 20.0
#: Ringing bubbles also move the bands apart, and move them together far more than any voice (at
#: least 6.3 dB, half of it apart; singers 2.1 dB, and as much apart).
RINGING_DB, RINGING_APART = 3.7, 0.65
#: Ratio of the median movement at 10–20 Hz to that at 50–98 Hz, where the periods of a rough voice
#: move the level too (as amplitudes: bubbles at least 3; voices of 3 dB shimmer rarely 4).
SLOW_HZ, FAST_HZ, OVER_FASTER = (10.0, 20.0), (50.0, 98.0), 4.0
#: Minimum duration to show irregularity.
NEEDS_S = 1.0
#: A tremor has this share of 3–40 Hz within ±1 Hz of its rate and its first overtones.
WAVER_HZ, WAVERS_UP_TO_HZ, ONE_RATE, OVERTONES = (3.0, 40.0), 12.0, 0.7, 4
#: Breaks and clicks are not bubbles: ignore this share of the level at each end.
RARE = 0.03


def breaks_and_chop(
    part: Frames, *, start: int, median_hz: float
) -> tuple[tuple[Break, ...], Flutter | None]:
    """Return the breaks of a held voice and its chopping, regular or not, each without the other's
    frames; None without chopping.

    Args:
        start: the frame of the recording that the part begins at.
    """
    breaks = breaks_of(part, start_s=start * HOP_S, median_hz=median_hz)
    aside = mark_break_frames(breaks, start=start, many=len(part))
    chop = flutter_of(part, aside=aside) or _find_bubbles(
        middle_of(part), _mask_uncounted(part, aside)
    )
    if chop:  # No bubble closes the voice longer, however deep it is.
        breaks = tuple(gap for gap in breaks if gap.end_s - gap.start_s > 1.0 / FLUTTER_HZ[0])
    return breaks, chop


def _find_bubbles(middle: Frames, aside: Mask) -> Flutter | None:
    if len(middle) * HOP_S < NEEDS_S:
        return None
    hz, power = moves(bridge_gaps(step_levels(middle), aside), rare=RARE)
    if np.sqrt(2.0 * power[mask_between(hz, BUBBLES_HZ)].sum()) < 0.5 * LEAST_COMMON_DB:
        return None  # Clearly different: the bands are not needed.
    wavers = mask_between(hz, WAVER_HZ)
    slow = wavers & (hz <= WAVERS_UP_TO_HZ)
    near = mask_near_multiples(
        hz, float(hz[slow][np.argmax(power[slow])]), overtones=OVERTONES, within_hz=1.0
    )
    if power[near & wavers].sum() >= ONE_RATE * power[wavers].sum():
        return None
    together, apart = _common_db(middle.bands, aside)
    if together >= RINGING_DB and apart <= RINGING_APART * together:
        return Flutter(nan, together)
    slower, faster = (np.median(power[mask_between(hz, each)]) for each in (SLOW_HZ, FAST_HZ))
    smooth = slower >= OVER_FASTER**2 * faster
    if smooth and together >= LEAST_COMMON_DB and apart <= APART * together:
        return Flutter(nan, together)
    return None


def _common_db(bands: Array, aside: Mask) -> tuple[float, float]:
    """Return how far the loud bands move together at the bubbles' rates, and how far each for
    itself."""
    levels = 10.0 * np.log10(np.maximum(bands, 1e-12))
    mean = 10.0 * np.log10(np.maximum(bands.mean(axis=0), 1e-12))
    loud = np.column_stack(
        [bridge_gaps(levels[:, at], aside) for at in np.flatnonzero(mean > mean.max() - WITHIN_DB)]
    )
    # Import late: few voices get here, and scipy.signal takes as long as a minute of analysis.
    from scipy.signal import butter, sosfiltfilt

    band_pass = butter(2, BUBBLES_HZ, "bandpass", fs=1.0 / HOP_S, output="sos")
    moving = sosfiltfilt(band_pass, loud, axis=0)
    for band in moving.T:
        low, high = shares_of(band, RARE, 1.0 - RARE)
        band[:] = np.clip(band, low, high)
    common = moving.mean(axis=1, keepdims=True)
    apart = np.var(moving - common, axis=0).mean()
    return float(np.sqrt(2.0 * common.var())), float(np.sqrt(2.0 * apart))


def _mask_uncounted(part: Frames, aside: Mask) -> Mask:
    """Return the frames of a hold's middle among those that do not count."""
    trim = (len(part) - len(middle_of(part))) // 2
    return aside[trim : len(aside) - trim]
