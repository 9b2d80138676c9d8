"""What can happen to a try: it is recorded, exactly once."""

import logging
from math import isfinite
from uuid import UUID

import numpy as np
from django.db import IntegrityError, transaction
from django.utils import timezone

from reedcore.acoustics import Analysis, Hold, Task, analyse
from reedcore.acoustics.levels import smoothed_dbfs
from reedcore.formats.trace import pack_trace, trace_of
from reedcore.targets import Judgement, Measured, judge
from web.programmes.models import PrescribedTask
from web.programmes.queries import note_hz, target_of
from web.sound.capture import was_processed
from web.sound.consumers import KeyTaken

from .models import Trace, Trial

logger = logging.getLogger(__name__)

#: A hand on a stopwatch cannot time less, and no voice lasts longer.
BY_HAND_S = (0.3, 180.0)


def record_sound(
    task: PrescribedTask,
    *,
    key: UUID,
    source: str,
    samples: np.ndarray,
    rate_hz: int,
    capture: dict | None = None,
    at=None,
) -> Trial:
    """Measures a take and saves it, or gives back what was saved under its key before.

    Raises:
        reedcore.errors.Refusal: the sound cannot be measured; nothing is saved.
        KeyTaken: the key is another try's.
    """
    saved = _saved_before(task, key)
    if saved:
        return saved
    capture = capture or {}
    analysis = analyse(
        samples,
        rate_hz,
        task=Task.HOLD,
        target_hz=note_hz(task),
        processed=was_processed(capture),
    )
    hold = analysis.longest
    trial = Trial(
        **_figures(analysis, hold),
        source=source,
        recording_s=analysis.duration_s,
        sample_rate_hz=rate_hz,
        noise_floor_dbfs=_known(analysis.quality.noise_floor_dbfs),
        snr_db=_known(analysis.quality.snr_db),
        clipped_fraction=analysis.quality.clipped_fraction,
        reasons=[reason.value for reason in analysis.quality.reasons],
        capture=capture,
    )
    packed = None
    if hold:
        held = analysis.frames[hold.frame_slice()]
        packed = pack_trace(trace_of(held.pitch_hz, smoothed_dbfs(held)))
    measured = Measured(
        total_s=trial.total_s,
        steady_s=trial.steady_s,
        error_cents=trial.error_cents,
        share_on_pitch=trial.share_on_pitch,
    )
    return _save_once(trial, task, key, judge(measured, target_of(task)), packed=packed, at=at)


def record_by_hand(task: PrescribedTask, *, key: UUID, seconds: float, at=None) -> Trial:
    """Saves a hold timed with the stopwatch, marked as such.

    Raises:
        ValueError: no hand could have timed that.
        KeyTaken: the key is another try's.
    """
    shortest, longest = BY_HAND_S
    if not shortest <= seconds <= longest:
        raise ValueError(f"{seconds} s by hand")
    saved = _saved_before(task, key)
    if saved:
        return saved
    trial = Trial(source=Trial.Source.STOPWATCH, total_s=round(seconds, 2))
    judgement = judge(Measured(total_s=trial.total_s, by_hand=True), target_of(task))
    return _save_once(trial, task, key, judgement, packed=None, at=at)


def _save_once(
    trial: Trial, task: PrescribedTask, key: UUID, judgement: Judgement, *, packed, at
) -> Trial:
    trial.key, trial.task, trial.client = key, task, task.programme.client
    trial.performed_at = at or timezone.now()
    trial.outcome = judgement.overall.value
    trial.parts = [
        {"part": part.part.value, "verdict": part.verdict.value, "why": part.why.value}
        for part in judgement.parts
    ]
    try:
        with transaction.atomic():
            trial.save(force_insert=True)
            if packed:
                Trace.objects.create(trial=trial, packed=packed)
    except IntegrityError:
        # two connections brought the same take at once: the first one in is the try
        saved = _saved_before(task, key)
        if saved is None:
            raise
        return saved
    return trial


def _saved_before(task: PrescribedTask, key: UUID) -> Trial | None:
    saved = Trial.objects.select_related("task__programme__client").filter(pk=key).first()
    if saved and saved.task_id != task.pk:
        logger.warning("a try's key came again for another task")
        raise KeyTaken
    return saved


def _figures(analysis: Analysis, hold: Hold | None) -> dict:
    """The hold's figures as columns; what the recording does not bear is left unknown."""
    if hold is None:
        return {}
    quality = analysis.quality
    level = hold.level if quality.level_judged else None
    return {
        "total_s": round(hold.duration_s, 3),
        "steady_s": round(hold.steady_s, 3) if quality.steady_judged else None,
        "median_hz": _known(hold.pitch.median_hz),
        "error_cents": _known(hold.target_error_cents),
        "end_error_cents": _known(hold.end_error_cents),
        "share_on_pitch": _known(hold.on_pitch_share),
        "spread_cents": _known(hold.pitch.spread_cents) if quality.spread_judged else None,
        "drift_cents": _known(hold.pitch.drift_cents),
        "level_mean_dbfs": _known(level.mean_dbfs) if level else None,
        "level_slope_db_per_s": _known(level.slope_db_per_s) if level else None,
        "breaks": _from_start(hold),
    }


def _from_start(hold: Hold) -> list[dict]:
    """The breaks in seconds after the hold's start, as every picture of it needs them."""
    return [
        {
            "start_s": round(gap.start_s - hold.start_s, 3),
            "end_s": round(gap.end_s - hold.start_s, 3),
        }
        for gap in hold.breaks
    ]


def _known(value: float) -> float | None:
    """None for NaN: a database's NaN would sort and average as if it were a number."""
    return round(value, 4) if isfinite(value) else None
