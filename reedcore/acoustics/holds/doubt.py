"""Decide when the pitch of a hold is not reported: tracking failed, or the voice is creaky."""

from __future__ import annotations

from enum import StrEnum

import numpy as np
import scipy

from ..middle import middle_of
from ..moves.flutter import step_levels
from ..settings import ENERGY_STEP_S
from ..track.frames import Frames
from ..voice.steadiness import middle_of as middle_part

#: No held voice spreads further, even with the widest vibrato or tremor (±200 cents have an SD of
#: 141). A wider spread is a tracking error or several sounds.
MOST_SPREAD_CENTS = 300.0
#: If this share of a hold lies this near to its median, the median is still its pitch.
MOST_OF_IT, NEAR_CENTS = 0.6, 100.0
#: In noise shaped by the mouth (whispering), the pitch jumps between frames: this far from the
#: median of this many neighbours in at least a fifth of the frames. In the roughest, wettest and
#: breathiest voices, in at most 6 %.
NEIGHBOURS, LEAPING_CENTS, MOST_LEAPING = 9, 100.0, 0.12
#: Creak: single pulses that ring at a resonance before the next one. The 5 ms level then falls this
#: far between two pulses, less than 30 ms apart at 35 Hz. A voice above 70 Hz has a pulse in every
#: third step and falls by at most 6 dB.
CREAK_WITHIN_S, CREAK_FALLS_DB = 0.060, 12.0
#: The pitch found is then the resonance, and only weakly periodic.
CREAK_STRENGTH = 0.75
#: Regular pulses look like a trill. In a trill, the pitch between closures is clearer than this (at
#: least 0.70; pulses at most 0.65), or the closures are shallower (half peak to peak).
PULSED_STRENGTH, PULSED_DB = 0.67, 12.0


class PitchDoubt(StrEnum):
    """Reason why the pitch of a hold is not reported."""

    UNSURE = "pitch_unsure"
    CREAKY = "creaky"


def doubt_of(part: Frames, *, spread_cents: float, chop_db: float) -> PitchDoubt | None:
    """Return the reason why the pitch of a hold is not reported, or None.

    Args:
        spread_cents: pitch spread of the middle of the hold; NaN if unknown.
        chop_db: depth of a trill or of bubbles, 0 if there is none. Single pulses look similar.
    """
    strength = CREAK_STRENGTH if chop_db == 0.0 else PULSED_STRENGTH
    if (chop_db == 0.0 or chop_db >= PULSED_DB) and _creaks(middle_part(part), strength):
        return PitchDoubt.CREAKY
    return PitchDoubt.UNSURE if spread_cents > MOST_SPREAD_CENTS else None


def is_whispered(part: Frames) -> bool:
    """Return whether the pitch jumps from frame to frame, as it does in noise."""
    middle = middle_part(part)
    cents = 1200.0 * np.log2(middle.pitch_hz[middle.periodic])
    if not cents.size:
        return True
    leaps = (
        np.abs(cents - scipy.ndimage.median_filter(cents, NEIGHBOURS, mode="nearest"))
        > LEAPING_CENTS
    )
    return bool(np.mean(leaps) > MOST_LEAPING)


def mostly_on_one(part: Frames, median_hz: float) -> bool:
    """Return whether most of a hold is near its median pitch, for example after a short flip."""
    middle = middle_part(part)
    cents = 1200.0 * np.log2(middle.pitch_hz[middle.periodic] / median_hz)
    return bool(np.mean(np.abs(cents) <= NEAR_CENTS) >= MOST_OF_IT)


def _creaks(middle: Frames, under: float) -> bool:
    known = middle.strength[middle.periodic]
    if known.size and middle_of(known) >= under:
        return False
    levels = step_levels(middle)
    over = round(CREAK_WITHIN_S / ENERGY_STEP_S)
    if levels.size < over:
        return False
    windows = np.lib.stride_tricks.sliding_window_view(levels, over)
    return middle_of(np.ptp(windows, axis=1)) >= CREAK_FALLS_DB
