"""Quality of a recording: which figures can be trusted."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from math import isfinite, nan

import numpy as np

from ..holds.hissing import is_cut_off
from ..holds.measures import Hold
from ..middle import middle_of
from ..moves.speech import Speech
from ..settings import HOP_S, LEVEL_NEEDS_SNR_DB, SPREAD_NEEDS_SNR_DB, WORKING_RATE_HZ
from ..track.frames import Frames
from .levels import has_level_step, smoothed_dbfs
from .steadiness import middle_of as middle_of_hold

#: If more of the hold is at full scale, its level and shape are not the voice's.
CLIPPED_TOO_MUCH = 0.001
#: The room is measured outside the holds: at least this long, and this far from their edges.
ROOM_NEEDS_S, ROOM_APART_S = 0.3, 0.15
#: With less energy above 4 kHz the line cut it off, not the voice: even the noise of a good
#: microphone is more.
NARROW_BAND_SHARE = 2e-7
#: Below this periodicity, noise alone spreads the pitch by up to 25 cents, and by over 5 in every
#: second voice; from 0.85 on by at most 7 (voices of seven pitches and three mouths, noise of three
#: bands 20 to 4 dB below).
CLEAR_ENOUGH = 0.8
#: Frames apart (longer than a window and half a vibrato), as shares of the whole spread: noise 0.85
#: to 1.0 and 1.0; a steady voice 0.7; a 5.5 Hz vibrato 0.9 and 1.4. A smaller spread is as steady
#: as any target asks.
LAGS, NOISY_NEAR, NOISY_FAR, NOISY_CENTS = (4, 9), 0.82, 1.2, 8.0
#: If all of it is quieter, the microphone is off or covered.
SILENT_DBFS = -75.0


class QualityReason(StrEnum):
    """A reason why a figure is not judged, or should be reviewed."""

    SILENT = "silent"
    NO_VOICE = "no_voice"
    CLIPPED = "clipped"
    ROOM_NOT_HEARD = "room_not_heard"
    ROOM_TOO_LOUD_FOR_LEVEL = "room_too_loud_for_level"
    #: Speech: nothing is judged.
    ROOM_TOO_LOUD_FOR_SPEECH = "room_too_loud_for_speech"
    ANOTHER_VOICE = "another_voice"
    #: Speech: a much softer voice is heard in the pauses.
    PAUSES_NOT_HEARD = "pauses_not_heard"
    ROOM_TOO_LOUD_FOR_SPREAD = "room_too_loud_for_spread"
    BREATH_TOO_LOUD_FOR_SPREAD = "breath_too_loud_for_spread"
    NARROW_BAND = "narrow_band"
    #: Reported, not heard: the recording device had processed the sound.
    PROCESSED = "processed"
    #: Heard, not reported: the level drops at once and stays low, as with noise suppression.
    LEVEL_STEPPED = "level_stepped"
    #: No pitch: it could not be tracked, or there was none.
    PITCH_UNSURE = "pitch_unsure"
    CREAKY = "creaky"
    #: The pitch of a breathy voice can differ from the live display.
    PITCH_LOOKED_AT_AGAIN = "pitch_looked_at_again"


@dataclass(frozen=True, slots=True)
class Quality:
    """Figures of a recording that can be judged, and the reasons against the others.

    Attributes:
        is_usable: whether a hold was found at all that can be measured.
        reasons: what stands against parts of it, most important first.
        noise_floor_dbfs: level of the room outside the holds; NaN where it was not heard.
        snr_db: level of the longest hold over that floor; NaN where either is missing.
        clipped_fraction: share of the longest hold's samples at full scale; of all samples where
            there is no hold.
    """

    is_usable: bool
    reasons: tuple[QualityReason, ...]
    noise_floor_dbfs: float
    snr_db: float
    clipped_fraction: float

    @property
    def level_judged(self) -> bool:
        """Return whether level figures may be believed."""
        return not {
            QualityReason.ROOM_TOO_LOUD_FOR_LEVEL,
            QualityReason.ROOM_TOO_LOUD_FOR_SPEECH,
            QualityReason.ANOTHER_VOICE,
            QualityReason.CLIPPED,
            QualityReason.PROCESSED,
            QualityReason.LEVEL_STEPPED,
        } & {*self.reasons}

    @property
    def steady_judged(self) -> bool:
        """Return whether steady seconds may be believed."""
        return QualityReason.ROOM_TOO_LOUD_FOR_LEVEL not in self.reasons

    @property
    def voice_judged(self) -> bool:
        """Return whether cepstral prominence and tremor can be trusted."""
        return not {
            QualityReason.ROOM_TOO_LOUD_FOR_LEVEL,
            QualityReason.ROOM_TOO_LOUD_FOR_SPREAD,
        } & {*self.reasons}

    @property
    def spread_judged(self) -> bool:
        """Return whether pitch spread may be believed."""
        return self.voice_judged and QualityReason.BREATH_TOO_LOUD_FOR_SPREAD not in self.reasons


def quality_of(
    frames: Frames,
    holds: tuple[Hold, ...],
    *,
    sample_rate_hz: int,
    is_processed: bool = False,
    is_second_pass: bool = False,
    is_hiss_task: bool = False,
    can_be_steady: bool = True,
    speech: Speech | None = None,
) -> Quality:
    """Return the quality of the recording, given its holds.

    ``is_processed``: echo cancellation, noise suppression or automatic gain was on while recording.
    ``is_second_pass``: the pitch of a hold was taken over longer stretches (see :mod:`.lines`).
    ``can_be_steady``: one pitch is held, whose spread means something.
    ``speech``: the measured speech, if the task asked for it; it has a noise estimate of its own.
    ``is_hiss_task``: hiss that the bandwidth cannot carry is not reported as a missing voice.
    """
    floor = _noise_floor(frames, holds)
    longest = max(holds, key=lambda hold: hold.duration_s, default=None)
    hold_frames = frames[longest.frame_slice()] if longest else frames
    clipped = float(np.mean(hold_frames.clipped)) if len(hold_frames) else 0.0
    snr = longest.level.mean_dbfs - floor if longest else nan
    if speech:
        snr, floor = speech.snr_db, speech.level_median_dbfs - speech.snr_db
    reasons = []
    cut_off = sample_rate_hz < WORKING_RATE_HZ or bool(
        np.mean(hold_frames.top_share) < NARROW_BAND_SHARE
    )
    if is_hiss_task and not longest:
        cut_off = cut_off or is_cut_off(frames, min_hold_s=1.0)
    if speech:
        reasons += _speech_reasons(speech)
    elif not longest:
        loudest = float(np.max(smoothed_dbfs(frames), initial=-np.inf))
        if loudest < SILENT_DBFS:
            reasons.append(QualityReason.SILENT)
        elif not (is_hiss_task and cut_off):
            reasons.append(QualityReason.NO_VOICE)
    if clipped > CLIPPED_TOO_MUCH:
        reasons.append(QualityReason.CLIPPED)
    if (longest or speech) and not isfinite(floor):
        reasons.append(QualityReason.ROOM_NOT_HEARD)
    if speech:
        pass
    elif snr < LEVEL_NEEDS_SNR_DB:
        reasons.append(QualityReason.ROOM_TOO_LOUD_FOR_LEVEL)
    elif snr < SPREAD_NEEDS_SNR_DB:
        reasons.append(QualityReason.ROOM_TOO_LOUD_FOR_SPREAD)
    elif longest and can_be_steady and (_is_breathy(hold_frames) or _is_mostly_noise(hold_frames)):
        reasons.append(QualityReason.BREATH_TOO_LOUD_FOR_SPREAD)
    if longest and not speech and longest.pitch_doubt:
        reasons.append(QualityReason(longest.pitch_doubt))
    if cut_off and (longest or (is_hiss_task and QualityReason.SILENT not in reasons)):
        reasons.append(QualityReason.NARROW_BAND)
    if (
        longest
        and can_be_steady
        and not is_processed
        and has_level_step(middle_of_hold(hold_frames))
    ):
        reasons.append(QualityReason.LEVEL_STEPPED)
    if is_processed:
        reasons.append(QualityReason.PROCESSED)
    if is_second_pass and longest:
        reasons.append(QualityReason.PITCH_LOOKED_AT_AGAIN)
    return Quality(
        is_usable=longest is not None or (speech is not None and speech.doubt is None),
        reasons=tuple(reasons),
        noise_floor_dbfs=floor,
        snr_db=snr,
        clipped_fraction=clipped,
    )


def _speech_reasons(speech: Speech) -> list[QualityReason]:
    if speech.doubt:
        return [QualityReason(speech.doubt)]
    return [] if speech.has_clear_pauses else [QualityReason.PAUSES_NOT_HEARD]


def _is_breathy(frames: Frames) -> bool:
    """Return whether breath noise in the voice itself moves the measured pitch."""
    strength = frames.strength[frames.periodic]
    return strength.size > 0 and middle_of(strength) < CLEAR_ENOUGH


def _is_mostly_noise(frames: Frames) -> bool:
    """Return whether the pitch spread is mostly noise (lips, cheeks) or roughness of the voice.

    Of a voice that wanders, two frames 40 ms apart are nearer to each other than any two are; of
    one with vibrato two that are 90 ms apart are farther. Of noise neither is so.
    """
    middle = middle_of_hold(frames)
    cents = 1200.0 * np.log2(middle.pitch_hz)
    spread = float(np.nanstd(cents)) if middle.periodic.any() else 0.0
    if spread < NOISY_CENTS or len(middle) <= 2 * LAGS[1]:
        return False
    near, far = (np.sqrt(np.nanmean((cents[lag:] - cents[:-lag]) ** 2) / 2.0) for lag in LAGS)
    return bool(near > NOISY_NEAR * spread and far < NOISY_FAR * spread)


def _noise_floor(frames: Frames, holds: tuple[Hold, ...]) -> float:
    """Return the softer half of the sound outside the holds, because a cough or a breath is not the
    room."""
    outside = np.ones(len(frames), dtype=bool)
    for hold in holds:
        first = round((hold.start_s - ROOM_APART_S) / HOP_S)
        outside[max(0, first) : round((hold.end_s + ROOM_APART_S) / HOP_S)] = False
    levels = smoothed_dbfs(frames)[outside]
    levels = np.maximum(levels, -120.0)  # Digital silence: the limit of 20 bits.
    if levels.size * HOP_S < ROOM_NEEDS_S:
        return nan
    return float(np.percentile(levels, 25))
