"""Every case measured and held against its truth."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from math import isfinite, log2, nan

import numpy as np

from reedcore.acoustics import Hold, TakeKind, analyse
from reedcore.acoustics.settings import HOP_S
from reedcore.synthvoice import Clip, Span, VoicedPart

from .corpus import Case

#: The bars of the product: clean, and in noise, trills and fading.
EDGE_S = {False: 0.10, True: 0.20}
PITCH_CENTS = {False: 5.0, True: 10.0}
SLOPE_DB_PER_S = 0.2


@dataclass(frozen=True)
class Result:
    """The errors of a case; NaN where one does not apply."""

    name: str
    noisy: bool
    right_count: bool
    start_error_s: float
    end_error_s: float
    duration_error_s: float
    pitch_error_cents: float
    slope_error_db_per_s: float
    breaks_right: bool
    gross_frames: int
    voiced_frames: int

    @property
    def failures(self) -> list[str]:
        """Return the figures outside the bars, in words."""
        if not self.right_count:
            return ["number of holds"]
        edge, pitch = EDGE_S[self.noisy], PITCH_CENTS[self.noisy]
        checks = {
            f"start {self.start_error_s:+.3f} s": abs(self.start_error_s) > edge,
            f"end {self.end_error_s:+.3f} s": abs(self.end_error_s) > edge,
            f"duration {self.duration_error_s:+.3f} s": abs(self.duration_error_s) > edge,
            f"pitch {self.pitch_error_cents:+.1f} c": abs(self.pitch_error_cents) > pitch,
            f"slope {self.slope_error_db_per_s:+.2f} dB/s": abs(self.slope_error_db_per_s)
            > SLOPE_DB_PER_S,
            "breaks": not self.breaks_right,
        }
        return [what for what, failed in checks.items() if failed]


def judged(cases: Iterable[Case]) -> list[Result]:
    """Return the result of every case."""
    return [_judge(case) for case in cases]


def worst_glide_end_cents(glides: Iterable[tuple[Clip, float, float]]) -> tuple[float, int]:
    """Return the largest error at the ends of a glide, in cents, and the number of glides."""
    errors = []
    for clip, low_hz, high_hz in glides:
        glide = analyse(clip.samples, clip.rate_hz, task=TakeKind.GLIDE).glide
        if glide is None:
            errors.append(np.inf)
        else:
            errors += [_cents(low_hz, glide.low_hz), _cents(high_hz, glide.high_hz)]
    return float(np.max(np.abs(errors))), len(errors) // 2


def _judge(case: Case) -> Result:
    analysis = analyse(
        case.clip.samples, case.clip.rate_hz, task=case.task, reference_tone=case.tone
    )
    truths = case.clip.holds
    if len(analysis.holds) != len(truths):
        return Result(case.name, case.noisy, False, nan, nan, nan, nan, nan, False, 0, 0)
    if not truths:
        return Result(case.name, case.noisy, True, nan, nan, nan, nan, nan, True, 0, 0)
    pairs = list(zip(analysis.holds, truths, strict=True))
    hold, truth = max(pairs, key=lambda pair: pair[1].duration_s)
    gross, voiced = _gross(analysis.frames.pitch_hz, hold, truth)
    return Result(
        name=case.name,
        noisy=case.noisy,
        right_count=True,
        start_error_s=hold.start_s - truth.start_s,
        end_error_s=hold.end_s - truth.end_s,
        duration_error_s=hold.duration_s - truth.duration_s,
        pitch_error_cents=_cents(truth.median_hz, hold.pitch.median_hz),
        slope_error_db_per_s=_slope_error(hold, truth),
        breaks_right=len(hold.breaks) == len(truth.breaks),
        gross_frames=gross,
        voiced_frames=voiced,
    )


def _cents(truth_hz: float, found_hz: float) -> float:
    if not (isfinite(truth_hz) and isfinite(found_hz)):
        return nan
    return 1200.0 * log2(found_hz / truth_hz)


def _slope_error(hold: Hold, truth: Span) -> float:
    part = truth.part
    if (
        not isinstance(part, VoicedPart)
        or part.swell_db
        or part.trail_s
        or part.breaks
        or part.drift_cents
    ):
        return nan
    return hold.level.slope_db_per_s - (-part.fall_db / part.seconds)


def _gross(pitch_hz: np.ndarray, hold: Hold, truth: Span) -> tuple[int, int]:
    """Return the share of voiced frames more than 20 % off the median of an even hold."""
    if not isfinite(truth.median_hz):
        return 0, 0
    first, last = round(hold.start_s / HOP_S) + 5, round(hold.end_s / HOP_S) - 5
    heard = pitch_hz[first:last]
    heard = heard[np.isfinite(heard)]
    part = truth.part
    assert isinstance(part, VoicedPart)  # noqa: S101
    moving = 2 ** ((abs(part.tremor_cents) + abs(part.scoop_cents)) / 1200)
    off = np.abs(np.log2(heard / truth.median_hz)) > np.log2(1.2 * moving)
    return int(off.sum()), heard.size
