"""A whole recording, measured."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import numpy as np
from numpy.typing import NDArray

from reedcore.errors import EmptyRecording, RecordingTooLong, ValueOutOfRange

from .holds.measures import Hold, find_hisses, find_holds
from .live import LiveAnalyser
from .moves.glide import Glide, glide_of
from .moves.join import SToZ, s_to_z_of
from .moves.speech import Speech, speech_of
from .settings import WORKING_RATE_HZ
from .track.frames import Frames
from .track.lines import reexamine_pitch
from .track.recording import check_rate, loudest_channel
from .voice.quality import Quality, quality_of

#: One hour: longer than any exercise, and it bounds the memory for the frames.
LONGEST_S = 3600.0
#: An audible breath in: how soon the voice follows, and how much softer it is.
BREATH_BEFORE_S, BREATH_SOFTER_DB = 0.6, 12.0


class TakeKind(StrEnum):
    """The kind of recording, which decides on the measures that apply."""

    HOLD = "hold"
    HISS = "hiss"
    S_TO_Z = "s_to_z"
    GLIDE = "glide"
    SPEECH = "speech"


@dataclass(frozen=True, slots=True, eq=False)
class Analysis:
    """The measurement of a recording; "no voice found" is a result too.

    Attributes:
        holds: in order of time; of voice, of hiss, or both, as the task asks.
        glide, s_to_z, speech: None unless the task asks for them and they were found.
        frames: the track all of it rests on, one row every 10 ms.
    """

    sample_rate_hz: int
    duration_s: float
    quality: Quality
    holds: tuple[Hold, ...]
    frames: Frames
    glide: Glide | None = None
    s_to_z: SToZ | None = None
    speech: Speech | None = None

    @property
    def longest(self) -> Hold | None:
        """Return the longest hold, by which a single try is judged."""
        return max(self.holds, key=lambda hold: hold.duration_s, default=None)


def analyse(
    samples: NDArray[Any],
    rate_hz: int,
    *,
    task: TakeKind | None = None,
    target_hz: float | None = None,
    min_hold_s: float = 1.0,
    reference_tone: tuple[float, float] | None = None,
    is_processed: bool = False,
) -> Analysis:
    """Measure a recording.

    Args:
        samples: shape ``(n,)`` or ``(n, channels)``; PCM integers, or floats with full scale at ±1.
            Of several channels the loudest is measured.
        rate_hz: 8–96 kHz.
        task: what the recording is of; None looks for holds of voice and of hiss.
        target_hz: the note that was asked for, if any.
        min_hold_s: shorter holds are not reported.
        reference_tone: from when to when (s) the application itself sounded: never measured.
        processed: the recording device had changed the sound (echo, noise, gain): level is then
            not judged.

    Raises:
        EmptyRecording: no samples.
        RateOutOfRange, RecordingTooLong, DamagedRecording: as they say.
        ValueOutOfRange: a reference tone that ends before it starts.
    """
    check_rate(rate_hz)
    if samples.size == 0:
        raise EmptyRecording()
    duration_s = samples.shape[0] / rate_hz
    if duration_s > LONGEST_S:
        raise RecordingTooLong(duration_s=duration_s, longest_s=LONGEST_S)
    live = LiveAnalyser(rate_hz, keep_sound=True)
    frames = Frames.join([live.feed(loudest_channel(samples)), live.finish()])
    if reference_tone:
        frames = _mute_own_tone(frames, *reference_tone)
    again = False
    if task is not TakeKind.HISS and task is not TakeKind.SPEECH:
        frames, again = reexamine_pitch(frames, live.sound())
    holds = _find_holds(task, frames, live.sound(), target_hz, min_hold_s, rate_hz)
    speech = speech_of(frames, live.sound()) if task is TakeKind.SPEECH else None
    quality = quality_of(
        frames,
        holds,
        sample_rate_hz=rate_hz,
        is_processed=is_processed,
        is_second_pass=again,
        is_hiss_task=task in (TakeKind.HISS, TakeKind.S_TO_Z),
        can_be_steady=task in (None, TakeKind.HOLD),
        speech=speech,
    )
    return Analysis(
        sample_rate_hz=rate_hz,
        duration_s=duration_s,
        quality=quality,
        holds=holds,
        frames=frames,
        glide=glide_of(frames) if task is TakeKind.GLIDE else None,
        s_to_z=s_to_z_of(frames, live.sound())
        if task is TakeKind.S_TO_Z and _carries_hiss(rate_hz)
        else None,
        speech=speech,
    )


def _find_holds(
    task: TakeKind | None,
    frames: Frames,
    sound: NDArray[np.float32],
    target_hz: float | None,
    min_hold_s: float,
    rate_hz: int,
) -> tuple[Hold, ...]:
    voiced: tuple[Hold, ...] = ()
    hissed: tuple[Hold, ...] = ()
    if task in (None, TakeKind.HOLD, TakeKind.GLIDE, TakeKind.S_TO_Z):
        voiced = find_holds(
            frames,
            sound,
            target_hz=target_hz,
            min_hold_s=min_hold_s,
            is_single_note=task is not TakeKind.GLIDE,
        )
    if task in (None, TakeKind.HISS, TakeKind.S_TO_Z) and _carries_hiss(rate_hz):
        hissed = find_hisses(frames, min_hold_s=min_hold_s)
    if task is None:
        hissed = tuple(hiss for hiss in hissed if not _is_breath(hiss, voiced))
    return tuple(sorted((*voiced, *hissed), key=lambda hold: hold.start_s))


def _is_breath(hiss: Hold, voiced: tuple[Hold, ...]) -> bool:
    """Return whether a hiss is the breath that a hold was made with: right before it, and far
    softer."""
    return any(
        -0.05 <= hold.start_s - hiss.end_s <= BREATH_BEFORE_S
        and hold.level.mean_dbfs - hiss.level.mean_dbfs >= BREATH_SOFTER_DB
        for hold in voiced
    )


def _carries_hiss(rate_hz: int) -> bool:
    """Return whether a sampling rate can carry a hiss; otherwise a hiss is not judged."""
    return rate_hz >= WORKING_RATE_HZ


def _mute_own_tone(frames: Frames, start_s: float, end_s: float) -> Frames:
    """Return the frames with no pitch where the application's own tone sounded."""
    if not 0.0 <= start_s < end_s:
        raise ValueOutOfRange(what="reference tone", value=start_s, lowest=0.0, highest=end_s)
    return frames.with_silence(start_s, end_s)
