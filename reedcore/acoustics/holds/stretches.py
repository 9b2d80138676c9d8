"""Find stretches of held voice: tell a hold from talk, a cough, a tone, hum and the room.

Sounding frames are gathered into pieces (gaps under 150 ms do not part them), and pieces into runs
(gaps under 400 ms). A hold has at least one piece of some length, as talk has not; the shorter
pieces about it belong to it while they stay on its pitch.
"""

from __future__ import annotations

from itertools import pairwise
from math import isfinite, log2

import numpy as np

from ..middle import middle_of, shares_of
from ..runs import Mask, Stretch, runs
from ..settings import ABOVE_FLOOR_DB, BREAK_DEPTH_DB, HOLD_GAP_S, HOP_S
from ..track.frames import Array, Frames
from ..voice.levels import floor_of
from .another import (
    ANCHOR_S,
    EDGE,
    FAINTEST_DBFS,
    LEAP_CENTS,
    NEAR,
    SAME_PITCH_CENTS,
    SAME_PITCH_SHORT_CENTS,
    is_anchor,
    median_cents,
    split_at_jumps,
    trim_other_voices,
    trim_thumps,
)
from .breaks import breaks_of
from .echo import trim_echo
from .stillness import Stillness, on_one_note

#: A pitch in a frame this far below its window's level comes from its neighbours.
OWN_LEVEL_DB = 10.0
#: Farther below the median of the hold than this is echo, not voice.
FADED_DB = 40.0
#: Pieces are split by silences longer than a lip closure or a trill dip.
PIECE_GAP_S = 0.150
#: A run with a smaller periodic share is not a held voice.
LEAST_VOICED = 0.3
#: If fewer frames are periodic, and over half of them this far apart, it is noise.
SELDOM_VOICED, SCATTERED_CENTS = 0.6, 250.0
#: Syllables: minimum number of dips, and dips per second. Holds break more rarely.
CUT_DIPS, CUT_DIPS_PER_S = 3, 1.4
#: Speech of this length does not belong to a hold; a hold is still for this share of it.
TALK_S, LEAST_STILL = 0.40, 0.6
#: Words on one note keep the mouth still for a smaller share than this, and hiss for a larger one.
MOVING_STILL, CONSONANTS_SHARE = 0.3, 0.05
#: Chance monotone speech lasts at most this long; a hold with a moving mouth lasts longer.
PHRASE_S = 1.5
#: Mains hum keeps its frequency more exactly than a voice can.
HUM_HZ = (50.0, 60.0, 100.0, 120.0)
HUM_WITHIN_CENTS, HUM_SPREAD_CENTS = 20.0, 3.0
#: In noise, hum varies. Sound this near to it that begins or ends with the recording, or is heard
#: elsewhere this long, is hum of the room.
DEEP_HUM_HZ, DEEP_HUM_WITHIN_CENTS, ROOM_HEARD_S = (50.0, 60.0), 60.0, 0.3


def sounding_frames(frames: Frames) -> tuple[Mask, Mask]:
    """Return where a voice with a pitch sounds, and where anything is heard above the room."""
    levels = frames.voice_band_dbfs
    audible = levels > max(floor_of(levels) + ABOVE_FLOOR_DB, FAINTEST_DBFS)
    power = frames.voice_band.mean(axis=1)
    window = np.convolve(power, np.ones(5) / 5, mode="same") if len(power) >= 5 else power
    with np.errstate(divide="ignore", invalid="ignore"):
        own = levels > 10.0 * np.log10(2.0 * window) - OWN_LEVEL_DB
    return frames.periodic & audible & own, audible


def held_stretches(frames: Frames, *, min_hold_s: float, is_glide: bool = False) -> list[Stretch]:
    """Return the holds of voice as (first frame, frame after the last), in order of time.

    Args:
        gliding: a pitch that moves evenly is held as well.
    """
    levels = frames.voice_band_dbfs
    sounding, audible = sounding_frames(frames)
    stillness = Stillness(frames, is_glide=is_glide)
    found: list[Stretch] = []
    for start, end in runs(sounding, joining=round(HOLD_GAP_S / HOP_S)):
        median = middle_of(levels[start:end][sounding[start:end]])
        own = np.zeros_like(sounding)
        own[start:end] = sounding[start:end] & (levels[start:end] > median - FADED_DB)
        rough = audible & ~frames.periodic & (levels > median - BREAK_DEPTH_DB)
        rough &= frames.hiss_share < 0.5
        found += _holds_of_run(stillness, own, rough)
    return [
        (start, end)
        for whole in _unite_overlaps(found)
        for own in (whole if is_glide else trim_thumps(frames, whole),)
        for start, last in (trim_other_voices(frames, own),)
        for end in (trim_echo(frames, start, last),)
        if (end - start) * HOP_S >= min_hold_s - 1e-9
        and is_voice(frames[start:end])
        and not _is_rooms_own(frames, (start, end))
        and is_held(stillness, (start, end))
        and not is_phrase(stillness, (start, end))
    ]


def _holds_of_run(stillness: Stillness, own: Mask, rough: Mask) -> list[Stretch]:
    """Return the holds in one run of sounding frames, with the rough voice that belongs to them."""
    frames = stillness.frames
    joining = round(PIECE_GAP_S / HOP_S)
    pieces = [
        part
        for piece in runs(own | rough, joining=joining)
        for cut in split_at_jumps(frames, piece)
        for part in _cut_talk(stillness, cut)
        if own[slice(*part)].any()
    ]
    anchors = [
        index
        for index, piece in enumerate(pieces)
        if is_anchor(piece)
        and np.mean(own[slice(*piece)]) >= LEAST_VOICED
        and is_held(stillness, piece)
    ]
    if not anchors:
        return []
    gap = round(HOLD_GAP_S / HOP_S)
    found: list[Stretch] = []
    for index in anchors:
        start, end = pieces[index]
        for before in reversed(pieces[:index]):
            if start - before[1] >= gap:
                break
            if _is_same_voice(stillness, before, (start, end)):
                start = before[0]
            elif not _is_break(frames, before, (start, end)):
                break
        for after in pieces[index + 1 :]:
            if after[0] - end >= gap:
                break
            if _is_same_voice(stillness, after, (start, end)):
                end = after[1]
            elif not _is_break(frames, after, (start, end)):
                break
        found.append((start, end))
    return _unite_overlaps(found)


def _cut_talk(stillness: Stillness, piece: Stretch) -> list[Stretch]:
    """Return a piece trimmed where speech surrounds the held sound."""
    start, end = piece
    if not is_anchor(piece):
        return [piece]
    still = stillness.still(piece)
    talk = [each for each in runs(~still) if (each[1] - each[0]) * HOP_S >= TALK_S]
    edges = sorted({start, end, *(start + edge for each in talk for edge in each)})
    return list(pairwise(edges))


def _is_same_voice(stillness: Stillness, piece: Stretch, hold: Stretch) -> bool:
    """Return whether a piece continues the hold: pitch is compared at the facing ends, because
    holds glide."""
    frames, (start, end) = stillness.frames, piece
    if (end - start) * HOP_S >= TALK_S and not is_held(stillness, piece):
        return False
    if end <= hold[0]:
        here, there = slice(max(start, end - NEAR), end), slice(hold[0], hold[0] + NEAR)
    else:
        here, there = slice(start, min(end, start + NEAR)), slice(hold[1] - NEAR, hold[1])
    apart = median_cents(frames.pitch_hz[here]) - median_cents(frames.pitch_hz[there])
    limit = SAME_PITCH_CENTS if is_anchor(piece) else SAME_PITCH_SHORT_CENTS
    if start == hold[1] or end == hold[0]:
        limit = LEAP_CENTS  # After a cut at a level jump, only the same pitch continues.
    return isfinite(apart) and abs(apart) <= limit


def _is_break(frames: Frames, piece: Stretch, hold: Stretch) -> bool:
    """Return whether a piece is the silence of a break inside a hold."""
    levels = frames.voice_band_dbfs
    there = levels[hold[0] : hold[1]]
    facing = there[-NEAR:] if piece[0] >= hold[1] else there[:NEAR]
    return middle_of(levels[slice(*piece)]) < middle_of(facing) - BREAK_DEPTH_DB


def pitch_beyond_s(frames: Frames, stretch: Stretch) -> tuple[float, float]:
    """Return how long the pitch of a hold was there before it, and is still there after it, s."""
    start, end = stretch
    return (
        _continuing_s(frames.pitch_hz[:start][::-1], frames.pitch_hz[start : start + NEAR]),
        _continuing_s(frames.pitch_hz[end:], frames.pitch_hz[max(start, end - NEAR) : end]),
    )


def _continuing_s(outside: Array, inside: Array) -> float:
    with np.errstate(invalid="ignore"):
        off = np.abs(1200.0 * np.log2(outside) - median_cents(inside))
        same = runs(off <= SAME_PITCH_SHORT_CENTS, joining=EDGE)
    return (same[0][1] - same[0][0]) * HOP_S if same and same[0][0] < EDGE else 0.0


def _unite_overlaps(stretches: list[Stretch]) -> list[Stretch]:
    """Return overlapping stretches as one."""
    united: list[Stretch] = []
    for start, end in sorted(stretches):
        if united and start < united[-1][1]:
            united[-1] = (united[-1][0], max(end, united[-1][1]))
        else:
            united.append((start, end))
    return united


def is_held(stillness: Stillness, stretch: Stretch) -> bool:
    """Return whether most of a stretch keeps still, and it is not cut into syllables of a melody.

    Pulses and "mam-mam" are cut as well, on one note.
    """
    part, still = stillness.frames[slice(*stretch)], stillness.still(stretch)
    longest = max((end - start for start, end in runs(still)), default=0)
    if np.mean(still) <= LEAST_STILL or longest * HOP_S < min(len(part) * HOP_S, ANCHOR_S) * 0.8:
        return False
    if not is_cut(part):
        return True
    on_note = float(np.mean(on_one_note(part))) > LEAST_STILL
    return on_note and not _is_articulated(stillness, stretch)


def _is_articulated(stillness: Stillness, stretch: Stretch) -> bool:
    """Return whether syllables on one note are words: the mouth moves and consonants hiss."""
    part = stillness.frames[slice(*stretch)]
    moving = float(np.mean(stillness.mouth_still(stretch))) < MOVING_STILL
    return moving and float(np.mean(part.hiss_share > 0.5)) > CONSONANTS_SHARE


def _is_rooms_own(frames: Frames, stretch: Stretch) -> bool:
    """Return whether it is hum of the room whose frequency seems to vary in noise: at the mains
    frequency, and present at an end of the recording or elsewhere too."""
    inside = frames.pitch_hz[slice(*stretch)]
    outside = np.delete(frames.pitch_hz, slice(*stretch))
    middle_hz = middle_of(inside[np.isfinite(inside)])
    for hum in DEEP_HUM_HZ:
        if abs(1200.0 * log2(middle_hz / hum)) >= DEEP_HUM_WITHIN_CENTS:
            continue
        with np.errstate(invalid="ignore"):
            as_low = np.abs(1200.0 * np.log2(outside / hum)) < DEEP_HUM_WITHIN_CENTS
        if stretch[0] == 0 or stretch[1] == len(frames) or as_low.sum() * HOP_S >= ROOM_HEARD_S:
            return True
    return False


def is_phrase(stillness: Stillness, stretch: Stretch) -> bool:
    """Return whether it may be the end of a sentence: the mouth moves, and it is on one note for no
    longer than a phrase sometimes is."""
    short = (stretch[1] - stretch[0]) * HOP_S < PHRASE_S
    return short and float(np.mean(stillness.mouth_still(stretch))) <= LEAST_STILL


def is_cut(part: Frames) -> bool:
    """Return whether the sound dips several times a second, not as fast as a trill."""
    voiced_hz = part.pitch_hz[part.periodic]
    median_hz = middle_of(voiced_hz) if voiced_hz.size else np.nan
    dips = len(breaks_of(part, start_s=0.0, median_hz=median_hz))
    return dips >= CUT_DIPS and dips > CUT_DIPS_PER_S * len(part) * HOP_S


def is_voice(part: Frames) -> bool:
    """Return whether it is a voice: not mains hum, and not noise with an occasional pitch."""
    voiced_hz = part.pitch_hz[part.periodic]
    if voiced_hz.size < LEAST_VOICED * len(part):
        return False
    middle = part[25:-25] if len(part) > 80 else part
    voiced_hz = middle.pitch_hz[middle.periodic]
    if voiced_hz.size < 2:
        return False
    cents = 1200.0 * np.log2(voiced_hz)
    if voiced_hz.size < SELDOM_VOICED * len(middle):
        low, high = shares_of(cents, 0.25, 0.75)
        if high - low > SCATTERED_CENTS:
            return False
    if float(np.std(cents)) >= HUM_SPREAD_CENTS:
        return True
    middle_cents = middle_of(cents)
    return all(abs(middle_cents - 1200.0 * log2(hum)) >= HUM_WITHIN_CENTS for hum in HUM_HZ)
