"""Measures of a hold, once its start and end are known."""

from __future__ import annotations

from dataclasses import dataclass, replace
from enum import StrEnum
from math import isfinite, nan

import numpy as np
from numpy.typing import NDArray

from reedcore.pitch import cents_between

from ..moves.bubbles import breaks_and_chop
from ..moves.flutter import Flutter, flutter_of
from ..runs import Stretch
from ..settings import EDGE_TRIM_S, HOP_S, WORKING_RATE_HZ
from ..track.frames import Frames
from ..voice.cepstral import cepstral_prominence_db
from ..voice.levels import LevelFigures, end_uncertainty_s, level_figures
from ..voice.perturbation import UNKNOWN as NO_PERTURBATION
from ..voice.perturbation import Perturbation, perturbation_of
from ..voice.spectrum import UNKNOWN as NO_SPECTRUM
from ..voice.spectrum import LongTermSpectrum, long_term_spectrum
from ..voice.steadiness import (
    PitchFigures,
    middle_of,
    on_pitch_share,
    pitch_figures,
    steady_seconds,
)
from ..voice.tone import is_tone
from ..voice.tremor import Tremor, tremor_of
from .breaks import Break, mark_break_frames
from .doubt import PitchDoubt, doubt_of, is_whispered, mostly_on_one
from .echo import unsure_tail_s
from .hissing import hiss_stretches, voiceless_flutter_stretches
from .onset import onset_rise_ms
from .stretches import held_stretches, pitch_beyond_s

NO_PITCH = PitchFigures(nan, nan, nan)
#: On pitch: default values of the clinic settings.
ON_PITCH_CENTS, ON_PITCH_SHARE = 50.0, 0.80


class HoldKind(StrEnum):
    """Voice, or hiss (a voiceless trill or bubbles too)."""

    VOICED = "voiced"
    HISS = "hiss"


@dataclass(frozen=True, slots=True)
class Hold:
    """One held sound. Seconds from the start of the recording; NaN is "not measured".

    Attributes:
        end_uncertainty_s: how unsure its length is: a faded end, one that a room may have drawn
            out, or its pitch that goes on far softer beside it.
        steady_s: see :func:`reedcore.acoustics.voice.steadiness.steady_seconds`.
        target_error_cents: median pitch against the note, NaN without a note or a pitch.
        end_error_cents: the same over the last third of the hold.
        on_pitch_share: share of periodic frames within ±50 cents of the note.
        voiced_fraction: periodic frames ÷ frames.
        onset_rise_ms: 10 to 90 % of the first plateau.
        cpps_db: smoothed cepstral peak prominence; NaN for trills and water.
        tremor: None where there is none, or where it cannot be told (trills and water).
        flutter: what chops the sound, None where nothing does.
        pitch_doubt: why no pitch is given; None if one is.
        perturbation: jitter, shimmer, harmonics to noise; NaN for trills and water.
        spectrum: how its sound is spread over the spectrum.
    """

    kind: HoldKind
    start_s: float
    end_s: float
    end_uncertainty_s: float
    steady_s: float
    pitch: PitchFigures
    level: LevelFigures
    target_error_cents: float
    end_error_cents: float
    on_pitch_share: float
    voiced_fraction: float
    breaks: tuple[Break, ...]
    onset_rise_ms: float
    cpps_db: float
    tremor: Tremor | None
    flutter: Flutter | None
    pitch_doubt: PitchDoubt | None = None
    perturbation: Perturbation = NO_PERTURBATION
    spectrum: LongTermSpectrum = NO_SPECTRUM

    @property
    def duration_s(self) -> float:
        """Return its length from start to end, breaks included."""
        return self.end_s - self.start_s

    @property
    def on_pitch(self) -> bool | None:
        """Return whether it was on the note; None without a target note or a measured pitch."""
        if not isfinite(self.target_error_cents):
            return None
        return (
            abs(self.target_error_cents) <= ON_PITCH_CENTS and self.on_pitch_share >= ON_PITCH_SHARE
        )

    def frame_slice(self) -> slice:
        """Return its frames in the track it was found in."""
        return slice(round(self.start_s / HOP_S), round(self.end_s / HOP_S))


def find_holds(
    frames: Frames,
    samples: NDArray[np.float32],
    *,
    target_hz: float | None = None,
    min_hold_s: float = 1.0,
    is_single_note: bool = True,
) -> tuple[Hold, ...]:
    """Return every held voice of at least ``min_hold_s`` in order of time; empty if there is none.

    Args:
        one_note: one is to be held, so that a pitch which spreads far is doubted.
        samples: the recording at 16 kHz, for the measures that frames are too coarse for.
    """
    return tuple(
        _measure_voiced(frames, stretch, samples, target_hz, is_single_note)
        for stretch in held_stretches(frames, min_hold_s=min_hold_s)
        if not is_tone(frames[slice(*stretch)], samples, start=stretch[0])
        and not is_whispered(frames[slice(*stretch)])
    )


def find_hisses(frames: Frames, *, min_hold_s: float = 1.0) -> tuple[Hold, ...]:
    """Return every held hiss, voiceless trill or bubbling, in order of time."""
    found = hiss_stretches(frames, min_hold_s=min_hold_s)
    taken = np.zeros(len(frames), dtype=bool)
    for start, end in (*found, *held_stretches(frames, min_hold_s=0.5)):
        taken[start:end] = True
    for start, end in voiceless_flutter_stretches(frames, min_hold_s=min_hold_s):
        if not taken[start:end].any():
            found.append((start, end))
    return tuple(_measure_hiss(frames, stretch) for stretch in sorted(found))


def _measure_voiced(
    frames: Frames,
    stretch: Stretch,
    samples: NDArray[np.float32],
    target_hz: float | None,
    is_single_note: bool,
) -> Hold:
    start, end = stretch
    part = frames[start:end]
    usual_hz = float(np.median(part.pitch_hz[part.periodic])) if part.periodic.any() else nan
    breaks, flutter = breaks_and_chop(part, start=start, median_hz=usual_hz)
    part = _without_pitch_in(part, breaks, start)
    pitch = pitch_figures(part)
    spread = pitch.spread_cents if is_single_note else nan
    doubt = doubt_of(part, spread_cents=spread, chop_db=flutter.depth_db if flutter else 0.0)
    if doubt:
        is_one_note = doubt is PitchDoubt.UNSURE and mostly_on_one(part, pitch.median_hz)
        pitch = PitchFigures(pitch.median_hz, nan, nan) if is_one_note else NO_PITCH
    clear, middle = not (flutter or doubt), _middle_samples(samples, stretch)
    error = end_error = share = nan
    if target_hz is not None and isfinite(pitch.median_hz):
        error = cents_between(from_hz=target_hz, to_hz=pitch.median_hz)
        end_pitch = pitch_figures(part[len(part) * 2 // 3 :]).median_hz
        if isfinite(end_pitch):
            end_error = cents_between(from_hz=target_hz, to_hz=end_pitch)
        share = on_pitch_share(part, target_hz=target_hz, window_cents=ON_PITCH_CENTS)
    return Hold(
        kind=HoldKind.VOICED,
        start_s=start * HOP_S,
        end_s=end * HOP_S,
        end_uncertainty_s=_end_unsure_s(frames, stretch),
        steady_s=nan if doubt else steady_seconds(part),
        pitch=pitch,
        level=level_figures(middle_of(part)),
        target_error_cents=error,
        end_error_cents=end_error,
        on_pitch_share=share,
        voiced_fraction=float(np.mean(part.periodic)),
        breaks=breaks,
        onset_rise_ms=onset_rise_ms(samples, start_s=start * HOP_S, pitch_hz=pitch.median_hz),
        cpps_db=cepstral_prominence_db(middle) if clear else nan,
        tremor=None if flutter or doubt else tremor_of(middle_of(part)),
        flutter=flutter,
        pitch_doubt=doubt,
        perturbation=perturbation_of(middle, pitch_hz=pitch.median_hz)
        if clear
        else NO_PERTURBATION,
        spectrum=long_term_spectrum(middle),
    )


def _measure_hiss(frames: Frames, stretch: Stretch) -> Hold:
    start, end = stretch
    part = frames[start:end]
    return Hold(
        kind=HoldKind.HISS,
        start_s=start * HOP_S,
        end_s=end * HOP_S,
        end_uncertainty_s=end_uncertainty_s(frames, end),
        steady_s=steady_seconds(part, is_pitched=False),
        pitch=NO_PITCH,
        level=level_figures(middle_of(part)),
        target_error_cents=nan,
        end_error_cents=nan,
        on_pitch_share=nan,
        voiced_fraction=float(np.mean(part.periodic)),
        breaks=(),
        onset_rise_ms=nan,
        cpps_db=nan,
        tremor=None,
        flutter=flutter_of(part),
    )


def _without_pitch_in(part: Frames, breaks: tuple[Break, ...], start: int) -> Frames:
    """Return the frames of a hold without false pitches in its breaks, where the edges of the voice
    on both sides repeat once."""
    if not breaks:
        return part
    inside = mark_break_frames(breaks, start=start, many=len(part))
    pitch, strength = np.where(inside, nan, part.pitch_hz), np.where(inside, 0.0, part.strength)
    return replace(part, pitch_hz=pitch, strength=strength)


def _end_unsure_s(frames: Frames, stretch: Stretch) -> float:
    """Return the uncertainty of the end, s: a slow fall into the room, an echo-like tail, or a
    sound of the same pitch attributed to another source."""
    faded = end_uncertainty_s(frames, stretch[1])
    unclear = max(unsure_tail_s(frames, *stretch), *pitch_beyond_s(frames, stretch))
    return max(faded, unclear) if isfinite(faded) else unclear or faded


def _middle_samples(samples: NDArray[np.float32], stretch: Stretch) -> NDArray[np.float32]:
    trim = round(EDGE_TRIM_S * WORKING_RATE_HZ)
    first, last = (round(edge * HOP_S * WORKING_RATE_HZ) for edge in stretch)
    return samples[first + trim : last - trim] if last - first > 2 * trim else samples[first:last]
