"""Holds without a voice: a steady /s/, and voiceless trills and bubbles."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..moves.flutter import flutter_of
from ..runs import Mask, Stretch, runs
from ..settings import HOLD_GAP_S, HOP_S
from ..track.frames import Frames
from ..voice.levels import floor_of, smoothed_dbfs
from .another import FAINTEST_DBFS

#: In a hiss, anything periodic below this is mains hum.
HUM_UP_TO_HZ = 65.0
#: With this share above 2 kHz, a periodic sound is a whistle between the teeth, not voice.
WHISTLED = 0.98
#: Minimum level of a hiss above the room.
HISS_ABOVE_FLOOR_DB = 10.0
#: Farther below the median of the run than this is no longer the hiss.
HISS_FADED_DB = 25.0
#: The consonants of connected speech hiss for a smaller share of the time.
LEAST_HISSING = 0.75
#: A hiss between the teeth has this share above 2 kHz. A broader one counts as held if its level
#: stays within this range for this share of the time; a breath swells more.
SHARP_SHARE, EVEN_DB, LEAST_EVEN = 0.9, 3.0, 0.65
#: Maximum duration of a breath in. A breath through the teeth rises and falls over 0.3 s each; a
#: short held hiss starts and stops within 0.1 s.
LONGEST_BREATH_S, LEAST_EVEN_SHORT = 2.0, 0.75
#: With less than this in the top band, nothing above 4 kHz reached the microphone.
LEAST_TOP_SHARE = 0.05
#: Residue at the edge of a filter, 30 dB down.
NOTHING_SHARE = 0.001


def hissing_frames(frames: Frames) -> Mask:
    """Return the unvoiced frames above the room level with most energy above 2 kHz."""
    high = replace(frames, energy=frames.energy * frames.hiss_share[:, None])
    voice = frames.periodic & ~(frames.pitch_hz < HUM_UP_TO_HZ) & (frames.hiss_share < WHISTLED)
    return ~voice & (frames.hiss_share > 0.5) & _above_room(high)


def hiss_stretches(frames: Frames, *, min_hold_s: float) -> list[Stretch]:
    """Return held hisses as (first frame, frame after the last)."""
    hissing = hissing_frames(frames)
    levels = frames.level_dbfs
    found = []
    for start, end in runs(hissing, joining=round(HOLD_GAP_S / HOP_S)):
        part = slice(start, end)
        loud = hissing[part] & (
            levels[part] > np.median(levels[part][hissing[part]]) - HISS_FADED_DB
        )
        places = np.flatnonzero(loud)
        if not places.size:
            continue
        start, end = start + int(places[0]), start + int(places[-1]) + 1
        enough = np.mean(hissing[start:end]) > LEAST_HISSING
        high = np.median(frames.top_share[start:end]) > LEAST_TOP_SHARE
        held = high and not _is_breath(frames[start:end])
        if enough and held and (end - start) * HOP_S >= min_hold_s - 1e-9:
            found.append((start, end))
    return found


def is_cut_off(frames: Frames, *, min_hold_s: float) -> bool:
    """Return whether a hiss as long as a hold has no energy above 4 kHz (telephone line, codec)."""
    hissing = hissing_frames(frames)
    return any(
        (end - start) * HOP_S >= min_hold_s
        and np.mean(hissing[start:end]) > LEAST_HISSING
        and np.median(frames.top_share[start:end]) < NOTHING_SHARE
        for start, end in runs(hissing, joining=round(HOLD_GAP_S / HOP_S))
    )


def _is_breath(part: Frames) -> bool:
    """Return whether it is air drawn in: broad or short, and never even; a held hiss is narrow or
    even."""
    short = len(part) * HOP_S < LONGEST_BREATH_S
    if not short and np.median(part.hiss_share) >= SHARP_SHARE:
        return False
    levels = smoothed_dbfs(part)
    even = np.abs(levels - np.percentile(levels, 80)) <= EVEN_DB
    return bool(np.mean(even) < (LEAST_EVEN_SHORT if short else LEAST_EVEN))


def voiceless_flutter_stretches(frames: Frames, *, min_hold_s: float) -> list[Stretch]:
    """Return voiceless trills and bubbles: noise without a pitch, chopped evenly by lips or
    water."""
    noise = _above_room(frames) & (frames.hiss_share < 0.5)
    found = []
    for start, end in runs(noise, joining=round(HOLD_GAP_S / HOP_S)):
        part = frames[start:end]
        if (end - start) * HOP_S < min_hold_s - 1e-9 or np.mean(part.periodic) > 0.3:
            continue
        if flutter_of(part) is not None:
            found.append((start, end))
    return found


def _above_room(frames: Frames) -> Mask:
    """Return the frames above the room; none without a quiet part, because constant noise may be
    the room."""
    room = floor_of(smoothed_dbfs(frames))
    if not np.isfinite(room):
        return np.zeros(len(frames), dtype=bool)
    return np.asarray(frames.level_dbfs > max(room + HISS_ABOVE_FLOOR_DB, FAINTEST_DBFS))
