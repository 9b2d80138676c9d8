"""/s/ into /z/: how long each, and how well they are joined."""

from __future__ import annotations

from dataclasses import dataclass
from math import nan

import numpy as np
from numpy.typing import NDArray

from ..holds.hissing import hissing_frames
from ..holds.onset import onset_rise_ms
from ..holds.stretches import sounding_frames
from ..runs import Mask, runs
from ..settings import HOLD_GAP_S, HOP_S, WORKING_RATE_HZ
from ..track.frames import Frames

#: Both are read through 50 ms windows: a smaller gap is none.
JOINED_S = 0.030
SHORTEST_S = 0.3
#: Share of a /z/ that is voice.
_VOICE_TO_HZ = 1500.0


@dataclass(frozen=True, slots=True)
class SToZ:
    """Seconds; ``gap_s`` is 0 where the two are joined.

    Attributes:
        s_start_s, s_end_s, z_start_s, z_end_s: where each lies in the recording.
        z_hz: median pitch of the /z/; NaN where it has none.
        z_onset_rise_ms: how fast its voice begins, under 1500 Hz alone, for the hiss may go on
            over it; NaN where that was not heard whole.
    """

    s_start_s: float
    s_end_s: float
    z_start_s: float
    z_end_s: float
    gap_s: float
    z_hz: float = nan
    z_onset_rise_ms: float = nan

    @property
    def s_duration_s(self) -> float:
        """Return the length of the /s/."""
        return self.s_end_s - self.s_start_s

    @property
    def z_duration_s(self) -> float:
        """Return the length of the /z/."""
        return self.z_end_s - self.z_start_s


def s_to_z_of(frames: Frames, samples: NDArray[np.float32]) -> SToZ | None:
    """Return the longest hiss followed by a buzz; None if there is no such pair.

    Args:
        samples: the recording at 16 kHz.
    """
    least = round(SHORTEST_S / HOP_S)
    hisses = [run for run in runs(hissing_frames(frames), joining=10) if run[1] - run[0] >= least]
    sounding, _ = sounding_frames(frames)
    # First without its gaps: a hiss frame that seems to have a pitch is not yet the buzz.
    buzzes = [run for run in runs(sounding, joining=4) if run[1] - run[0] >= least]
    pairs = [
        (hiss, buzz)
        for hiss in hisses
        for buzz in buzzes
        if hiss[0] < buzz[0] and -20 <= buzz[0] - hiss[1] <= 200
    ]
    if not pairs:
        return None
    hiss, buzz = max(pairs, key=lambda pair: pair[0][1] - pair[0][0])
    levels = frames.voice_band_dbfs
    strong = levels[buzz[0] : buzz[1]] > np.median(levels[buzz[0] : buzz[1]]) - 10.0
    z_start = (buzz[0] + int(np.argmax(strong))) * HOP_S
    s_end = min(hiss[1] * HOP_S, z_start)
    gap = z_start - s_end
    pitch = frames.pitch_hz[slice(*buzz)]
    voiced_hz = pitch[np.isfinite(pitch)]
    z_hz = float(np.median(voiced_hz)) if voiced_hz.size else nan
    return SToZ(
        s_start_s=hiss[0] * HOP_S,
        s_end_s=s_end,
        z_start_s=z_start,
        z_end_s=_end_with_breaks(sounding, buzz[1]) * HOP_S,
        gap_s=gap if gap > JOINED_S else 0.0,
        z_hz=z_hz,
        z_onset_rise_ms=_voice_rise_ms(samples, z_start, z_hz),
    )


def _voice_rise_ms(samples: NDArray[np.float32], start_s: float, pitch_hz: float) -> float:
    """Return the rise time of a voice, from its own band alone, ms."""
    first = max(0, round((start_s - 0.5) * WORKING_RATE_HZ))
    piece = samples[first : round((start_s + 0.5) * WORKING_RATE_HZ)]
    if piece.size < WORKING_RATE_HZ // 4:
        return nan
    # Import late: only this task needs scipy.signal, which takes as long as a minute of analysis.
    from scipy.signal import butter, sosfiltfilt

    low_pass = butter(4, _VOICE_TO_HZ, fs=WORKING_RATE_HZ, output="sos")
    voice = sosfiltfilt(low_pass, piece).astype(np.float32)
    return onset_rise_ms(voice, start_s=start_s - first / WORKING_RATE_HZ, pitch_hz=pitch_hz)


def _end_with_breaks(sounding: Mask, end: int) -> int:
    """Return where the buzz that reaches ``end`` finally stops; breaks under 400 ms are bridged
    over."""
    joined = runs(sounding, joining=round(HOLD_GAP_S / HOP_S))
    return next(after for first, after in joined if first < end <= after)
