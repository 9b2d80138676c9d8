"""The comfortable vowel that the levels of a device are judged against."""

from __future__ import annotations

from dataclasses import dataclass
from math import isfinite
from typing import Any

from numpy.typing import NDArray

from reedcore.acoustics import TakeKind, analyse


@dataclass(frozen=True, slots=True)
class VowelLevel:
    """The level of a vowel recorded for calibration or baseline.

    Attributes:
        level_dbfs: its energetic mean; None where it could not be judged.
        reasons: codes of what stands against the recording.
    """

    level_dbfs: float | None
    reasons: tuple[str, ...]


def comfortable_vowel(samples: NDArray[Any], rate_hz: int, is_processed: bool) -> VowelLevel:
    """Measure one.

    Args:
        samples: shape ``(n,)`` or ``(n, channels)``, PCM integers or floats with full scale at ±1.
        rate_hz: sampling rate, 8–96 kHz.
        processed: the browser changed the sound on its way.

    Raises:
        reedcore.errors.Refusal: the sound cannot be measured.
    """
    analysis = analyse(samples, rate_hz, task=TakeKind.HOLD, is_processed=is_processed)
    hold, quality = analysis.longest, analysis.quality
    level = hold.level.mean_dbfs if hold and quality.level_judged else float("nan")
    reasons = tuple(reason.value for reason in quality.reasons)
    return VowelLevel(round(level, 4) if isfinite(level) else None, reasons)
