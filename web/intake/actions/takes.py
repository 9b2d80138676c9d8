"""Store the recording of a trial exactly once."""

from __future__ import annotations

import logging
from typing import Any
from uuid import UUID

import numpy as np
from django.db import IntegrityError, transaction
from django.utils import timezone

from reedcore.measures import TrialContext, kind_of, measure_trial
from reedcore.measures.trial import check_length
from reedcore.measures.vowel import comfortable_vowel
from reedcore.targets import Judgement, Verdict
from web.record.models import PrescribedTask, ReferenceVowel, Session, Trace, Trial
from web.record.prescribed_item import PrescribedRow
from web.record.programmes import target_of
from web.record.today import reference_dbfs
from web.sound.capture import was_processed
from web.sound.consumers import KeyTaken
from web.sound.pool import POOL

from ..clock import Moment
from .set_aside import apply_reports_before

logger = logging.getLogger(__name__)

#: A hand cannot time less, and no voice lasts longer.
BY_HAND_S = (0.3, 180.0)


def record_sound(
    task: PrescribedTask,
    *,
    key: UUID,
    source: str,
    samples: np.ndarray,
    rate_hz: int,
    capture: dict | None = None,
    at: Moment | None = None,
    session: Session | None = None,
    role: str = "",
    set_s: float | None = None,
    number: int | None = None,
    beat_s: float | None = None,
) -> Trial:
    """Measure a take and store it, or return the trial already stored under its key.

    Raises:
        reedcore.errors.Refusal: the sound cannot be measured; nothing is saved.
        PoolBusy: too many recordings wait to be measured; nothing is saved yet.
        KeyTaken: the key is another try's.
        ValueError: a task that is not listened to.
    """
    saved = _saved_before(task, key)
    if saved:
        return saved
    if not kind_of(task.measure).is_heard:
        raise ValueError(f"nothing to hear in {task.measure}")
    capture = capture or {}
    against = TrialContext(
        reference_dbfs=reference_dbfs(task.programme.client, capture),
        seconds=set_s,
        is_processed=was_processed(capture),
    )
    check_length(len(samples) / rate_hz)
    goal = PrescribedRow(task).prescribed_item.goal_of(
        number=number, beat_s=beat_s, has_reference=against.reference_dbfs is not None
    )
    measurement = POOL.run(measure_trial, goal, against, samples, rate_hz)
    trial = Trial(
        **measurement.columns,
        source=source,
        capture=capture,
        session=session,
        role=role,
        set_s=set_s,
    )
    return _save_once(trial, task, key, measurement.judgement, packed=measurement.trace, at=at)


def record_by_hand(
    task: PrescribedTask,
    *,
    key: UUID,
    seconds: float,
    at: Moment | None = None,
    source: Any = Trial.Source.STOPWATCH,
    session: Session | None = None,
    role: str = "",
    set_s: float | None = None,
) -> Trial:
    """Save a try timed with the stopwatch (or written on paper), marked as such.

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
    held_s = round(seconds, 2)
    trial = Trial(source=source, total_s=held_s, session=session, role=role, set_s=set_s)
    did = kind_of(task.measure).by_hand
    judgement = did(held_s, target_of(task, seconds=set_s)) if did else Judgement(())
    return _save_once(trial, task, key, judgement, packed=None, at=at)


def record_unmeasured_set(
    task: PrescribedTask,
    *,
    key: UUID,
    figures: dict,
    at: Moment | None = None,
    session: Session | None = None,
    role: str = "",
) -> Trial:
    """Save a set that the client says was done: repetitions, minutes, breaths, a count, ticks.

    Raises:
        KeyTaken: the key is another try's.
    """
    saved = _saved_before(task, key)
    if saved:
        return saved
    trial = Trial(source=Trial.Source.TOLD, figures=figures, session=session, role=role)
    return _save_once(trial, task, key, Judgement(()), packed=None, at=at)


def record_reference(
    session: Session,
    *,
    key: UUID,
    samples: np.ndarray,
    rate_hz: int,
    capture: dict,
    at: Moment | None = None,
) -> ReferenceVowel:
    """Measure a comfortable vowel on the device of a session, once.

    Raises:
        reedcore.errors.Refusal: the sound cannot be measured.
        PoolBusy: too many recordings wait to be measured.
        KeyTaken: the key is another client's.
    """
    saved = ReferenceVowel.objects.filter(pk=key).first()
    if saved:
        if saved.client_id != session.client_id:
            raise KeyTaken
        return saved
    check_length(len(samples) / rate_hz)
    vowel_heard = POOL.run(comfortable_vowel, samples, rate_hz, was_processed(capture))
    at = at or Moment(timezone.now())
    vowel, _ = ReferenceVowel.objects.get_or_create(
        key=key,
        client=session.client,
        session=session,
        defaults={
            "device": capture.get("device", ""),
            "browser": capture.get("browser", ""),
            "made_at": at.at,
            "device_time": at.device_time,
            "level_dbfs": vowel_heard.level_dbfs,
            "reasons": list(vowel_heard.reasons),
        },
    )
    return vowel


def _save_once(
    trial: Trial, task: PrescribedTask, key: UUID, judgement: Judgement, *, packed: Any, at: Any
) -> Trial:
    trial.key, trial.task, trial.client = key, task, task.programme.client
    at = at or Moment(timezone.now())
    trial.performed_at, trial.device_time = at.at, at.device_time
    # A task without a target cannot be on or off target.
    overall = judgement.overall if judgement.parts else Verdict.NOT_JUDGED
    trial.outcome = overall.value
    trial.parts = [
        {"part": part.part.value, "verdict": part.verdict.value, "why": part.why.value}
        for part in judgement.parts
    ]
    try:
        with transaction.atomic():
            trial.save(force_insert=True)
            if packed:
                Trace.objects.create(trial=trial, packed=packed)
            # A report about this trial may have arrived before it.
            apply_reports_before(trial.client, key)
    except IntegrityError:
        # Two connections sent the same take at once: the first one becomes the trial.
        saved = _saved_before(task, key)
        if saved is None:
            raise
        return saved
    return trial


def _saved_before(task: PrescribedTask, key: UUID) -> Trial | None:
    saved = Trial.objects.select_related("task__programme__client").filter(pk=key).first()
    if saved and saved.task_id != task.pk:
        logger.warning("trial_key_reused")
        raise KeyTaken
    return saved
