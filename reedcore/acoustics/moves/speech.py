"""Spoken lines: pauses, breath groups, and how level and pitch move over them."""

from __future__ import annotations

import itertools
from dataclasses import dataclass
from enum import StrEnum
from math import nan

import numpy as np
import scipy
from numpy.typing import NDArray

from ..holds.another import FAINTEST_DBFS
from ..holds.stretches import sounding_frames
from ..runs import Mask, runs
from ..settings import ABOVE_FLOOR_DB, HOP_S, LEVEL_NEEDS_SNR_DB
from ..track.frames import Array, Frames
from ..voice.cepstral import cepstral_prominence_db
from ..voice.levels import energetic_mean, floor_of, smoothed_dbfs

PAUSE_S, BREATH_PAUSE_S = 0.25, 0.50
#: Minimum duration of speech.
LEAST_VOICED_S = 0.2
#: Air without voice for this long is a breath, also with gaps of this many frames. A sound almost
#: entirely above 2 kHz is an /s/, however long; one almost entirely below is creak at the end of a
#: sentence.
BREATH_HEARD_S, BREATH_BRIDGED, SIBILANT_SHARE, CREAK_SHARE = 0.28, 4, 0.93, 0.15
#: Minimum length of a quick breath between two words (s), and the silence on each side (frames).
CATCH_S, ALONE = 0.18, 4
#: Below this signal-to-noise ratio no figure of speech is judged (definition).
NEEDS_SNR_DB = LEVEL_NEEDS_SNR_DB
#: The room is measured this far from any voice, for at least this long.
ROOM_APART_S, ROOM_NEEDS_S = 0.10, 0.3
#: The speaker is the loudest voice: the 90th percentile of the smoothed voiced level. In 90
#: recordings of people in three languages, at most 5 % of the voice is softer than this by more
#: than OWN_WITHIN_DB. Softer sound is a television or the room.
LOUD_SHARE, SMOOTHED, OWN_WITHIN_DB = 90, 9, 17.0
#: A consonant is at most this far below the speaker, and this near to a voiced sound.
CONSONANTS = ((16.0, 0.30), (30.0, 0.10))
#: Another voice: one stretch (gaps up to 80 ms included) this far below the loud ones that is
#: longer than in any of those people (0.38, 0.25, 0.21 s), or exceeds this share of all (theirs: 12
#: %).
SOFT_DB, SOFT_S = (10.0, 12.0, 14.0), (0.45, 0.32, 0.28)
SOFT_GAP, FAINT_DB, SOFT_SHARE = 8, 22.0, 0.16
#: Height of a nucleus above the dips beside it, in the mean of this many frames.
NUCLEUS_DB, NUCLEUS_FRAMES = 2.0, 5
#: Pauses are not counted if another voice is heard between words for longer than this (s).
ELSEWHERE_S = 0.30


class SpeechDoubt(StrEnum):
    """Reason why speech is not judged."""

    ROOM_TOO_LOUD = "room_too_loud_for_speech"
    ANOTHER_VOICE = "another_voice"


@dataclass(frozen=True, slots=True)
class Pause:
    """A silence of at least 0.25 s between two sounds."""

    start_s: float
    end_s: float


@dataclass(frozen=True, slots=True)
class BreathGroup:
    """A breath group: speech between two pauses of at least 0.5 s.

    Attributes:
        level_fall_db: mean of the first third less mean of the last, voiced frames only.
    """

    start_s: float
    end_s: float
    level_fall_db: float


@dataclass(frozen=True, slots=True)
class Speech:
    """The whole of it; ranges run from the 10th to the 90th percentile of voiced frames.

    Attributes:
        snr_db: the level of what is voiced over that of the room between; NaN where it was not
            heard.
        doubt: reason why speech is not judged; None if it is.
        phonation_ratio: voiced time ÷ time from the first sound to the last.
        syllables_per_s: of the time that is spoken, pauses left out.
        cpps_db: cepstral peak prominence of what is voiced; NaN without the sound.
        has_clear_pauses: no other voice is heard in the pauses, so they can be counted.
    """

    voiced_s: float
    pauses: tuple[Pause, ...]
    groups: tuple[BreathGroup, ...]
    breaths_per_min: float
    f0_median_hz: float
    f0_range_semitones: float
    level_median_dbfs: float
    level_range_db: float
    snr_db: float = nan
    doubt: SpeechDoubt | None = None
    has_clear_pauses: bool = True
    phonation_ratio: float = nan
    syllables_per_s: float = nan
    cpps_db: float = nan


def speech_of(frames: Frames, sound: NDArray[np.float32] | None = None) -> Speech | None:
    """Return the measures of spoken lines; None without speech.

    Args:
        sound: the recording at 16 kHz, for its cepstrum.
    """
    sounding, _ = sounding_frames(frames)
    if np.count_nonzero(sounding) * HOP_S < LEAST_VOICED_S:
        return None
    near, voiced, loudest, others = _separate_own_voice(sounding, frames)
    levels = smoothed_dbfs(frames)
    room = _room_dbfs(levels, voiced)
    is_audible = frames.level_dbfs > max(room + ABOVE_FLOOR_DB, FAINTEST_DBFS)
    # Consonants sound too, but noise alone is not speech: search from the first voice to the last.
    loud = np.zeros_like(is_audible)
    for within_db, apart_s in CONSONANTS:
        beside = scipy.ndimage.binary_dilation(voiced, iterations=round(apart_s / HOP_S))
        loud |= is_audible & beside & (frames.level_dbfs > loudest - within_db)
    breaths = _breaths(is_audible, is_audible & ~sounding, frames)
    spoken = runs((loud | voiced) & ~breaths, joining=round(PAUSE_S / HOP_S))
    spoken = [run for run in spoken if voiced[slice(*run)].any()]
    pauses = tuple(
        Pause(one[1] * HOP_S, other[0] * HOP_S) for one, other in itertools.pairwise(spoken)
    )
    groups = _groups(spoken, levels, voiced, breaths)
    doubt = SpeechDoubt.ANOTHER_VOICE if others else None
    snr = float(np.median(levels[voiced])) - room
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
        snr_db=snr,
        doubt=SpeechDoubt.ROOM_TOO_LOUD if snr < NEEDS_SNR_DB else doubt,
        has_clear_pauses=_other_voices_s(near, voiced) <= ELSEWHERE_S,
        phonation_ratio=float(np.count_nonzero(voiced)) * HOP_S / length_s,
        syllables_per_s=_syllables(voiced, frames) / (HOP_S * sum(b - a for a, b in spoken)),
        cpps_db=nan if sound is None else cepstral_prominence_db(sound, voiced=voiced),
    )


def _separate_own_voice(sounding: Mask, frames: Frames) -> tuple[Mask, Mask, float, bool]:
    """Separate the voice of the speaker from softer voices, for example a television.

    Returns:
        Voiced frames near the microphone; those of the speaker; the level of the speaker (dBFS);
        and whether another voice may be among them.
    """
    power = scipy.ndimage.uniform_filter1d(frames.voice_band.mean(axis=1), SMOOTHED)
    levels = 10.0 * np.log10(np.maximum(2.0 * power, 1e-12))
    loud = float(np.percentile(levels[sounding], LOUD_SHARE))
    near = sounding & (levels > loud - FAINT_DB)
    soft = [near & (levels < loud - under) for under in SOFT_DB]
    others = any(
        (end - start) * HOP_S > longest
        for mask, longest in zip(soft, SOFT_S, strict=True)
        for start, end in runs(mask, joining=SOFT_GAP)
    )
    others = others or float(np.mean(soft[-1][near])) > SOFT_SHARE
    return near, near & (levels > loud - OWN_WITHIN_DB), loud, others


def _syllables(voiced: Mask, frames: Frames) -> int:
    """Count syllable nuclei: voiced level peaks separated by dips.

    Source: Behav Res Methods 2009;41:385-390.
    """
    power = scipy.ndimage.uniform_filter1d(frames.voice_band.mean(axis=1), NUCLEUS_FRAMES)
    levels = 10.0 * np.log10(np.maximum(2.0 * power, 1e-12))
    count, dip, peak = 0, np.inf, -np.inf
    rising = True
    for level, is_voiced in zip(levels.tolist(), voiced.tolist(), strict=True):
        if rising:
            peak = max(peak, level) if is_voiced else peak
            if level < peak - NUCLEUS_DB:
                count, rising, dip = count + 1, False, level
        else:
            dip = min(dip, level)
            if level > dip + NUCLEUS_DB and is_voiced:
                rising, peak = True, level
    return count + int(rising and peak > -np.inf)


def _room_dbfs(levels: Array, voiced: Mask) -> float:
    """Return the room level between words, without breaths and consonants (dBFS)."""
    apart = ~scipy.ndimage.binary_dilation(voiced, iterations=round(ROOM_APART_S / HOP_S))
    if np.count_nonzero(apart) * HOP_S < ROOM_NEEDS_S:
        return floor_of(levels)
    return float(np.percentile(np.maximum(levels[apart], -120.0), 25))


def _other_voices_s(near: Mask, voiced: Mask) -> float:
    """Return the seconds of other voices away from the words of the speaker."""
    apart = ~scipy.ndimage.binary_dilation(voiced, iterations=round(ROOM_APART_S / HOP_S))
    return float(np.count_nonzero(near & apart)) * HOP_S


def _breaths(is_audible: Mask, air: Mask, frames: Frames) -> Mask:
    """Return breath frames: air longer than any consonant, or shorter between silences."""
    found = np.zeros(len(air), dtype=bool)
    for start, end in runs(air, joining=BREATH_BRIDGED):
        alone = (
            not is_audible[max(0, start - ALONE) : start].any()
            and not is_audible[end:][:ALONE].any()
        )
        long_enough = (end - start) * HOP_S >= (CATCH_S if alone else BREATH_HEARD_S)
        share = float(np.median(frames.hiss_share[start:end]))
        if long_enough and CREAK_SHARE < share < SIBILANT_SHARE:
            found[start:end] = True
    return found


def _groups(
    spoken: list[tuple[int, int]], levels: Array, voiced: Mask, breaths: Mask
) -> tuple[BreathGroup, ...]:
    groups: list[tuple[int, int]] = []
    for start, end in spoken:
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
