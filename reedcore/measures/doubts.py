"""When a recording does not show how long a hold was: the trial is then not judged at all.

A wrong length shown as sure is worse than none: it counts for shares, bests and decisions. What was
found stays in the figures as ``doubtful_s``.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from reedcore.acoustics import Analysis, Hold
from reedcore.acoustics.voice.quality import QualityReason
from reedcore.targets import Judgement, Verdict
from reedcore.targets.judging import PartJudgement, VerdictReason

from .common import Columns

#: Digital silence this long inside a recording is a part that the device lost. Rooms have none: the
#: quietest microphone moves the last bit many times within a hundredth of this.
LOST_S = 0.04
#: Most of a hold this near to its median, with a spread as wide as this: another sound took the
#: pitch for a moment. Of a vibrato this wide (±71 cents) a third lies as near, of a wider one less.
NEAR_CENTS, MOST_OF_IT, WIDE_CENTS = 35.0, 0.5, 50.0
#: In noise, a sound without a pitch of its own may be the noise's.
_NOISY_WITHOUT_PITCH = {QualityReason.ROOM_TOO_LOUD_FOR_SPREAD, QualityReason.PITCH_UNSURE}


def doubt_about(analysis: Analysis, samples: NDArray[Any], rate_hz: int) -> VerdictReason | None:
    """Return the reason why a length is not known, or None.

    Args:
        samples: the recording, shape ``(n,)`` or ``(n, channels)``.
    """
    reasons = analysis.quality.reasons
    if QualityReason.ROOM_NOT_HEARD in reasons:
        return VerdictReason.ROOM_NOT_HEARD
    if QualityReason.ROOM_TOO_LOUD_FOR_LEVEL in reasons or set(reasons) >= _NOISY_WITHOUT_PITCH:
        return VerdictReason.ROOM_TOO_LOUD
    if longest_lost_s(samples, rate_hz) >= LOST_S:
        return VerdictReason.SOUND_LOST
    return None


def longest_lost_s(samples: NDArray[Any], rate_hz: int) -> float:
    """Return the longest digital silence between the first and the last sound, seconds."""
    nonzero = np.flatnonzero(samples if samples.ndim == 1 else np.any(samples != 0, axis=1))
    return float(np.max(np.diff(nonzero), initial=1) - 1) / rate_hz


def not_judged(judgement: Judgement, why: VerdictReason) -> Judgement:
    """Return a judgement with the same parts, none of them judged."""
    return Judgement(
        tuple(PartJudgement(each.part, Verdict.NOT_JUDGED, why) for each in judgement.parts)
    )


def doubtful(columns: Columns) -> Columns:
    """Return the columns of a trial of unknown length: only the finding itself."""
    total = columns.get("total_s")
    return {} if total is None else {"figures": {"doubtful_s": total}}


def is_spread_of_another(analysis: Analysis, hold: Hold) -> bool:
    """Return whether a wide spread comes from moments in which another sound had the pitch."""
    spread, median_hz = hold.pitch.spread_cents, hold.pitch.median_hz
    if not (spread >= WIDE_CENTS and median_hz > 0.0):
        return False
    part = analysis.frames[hold.frame_slice()]
    cents = 1200.0 * np.log2(part.pitch_hz[part.periodic] / median_hz)
    return bool(cents.size and np.mean(np.abs(cents) <= NEAR_CENTS) >= MOST_OF_IT)
