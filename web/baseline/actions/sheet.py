"""Actions on a baseline sheet. Every trial is kept, each under its key exactly once."""

from __future__ import annotations

from datetime import timedelta
from functools import partial
from typing import TYPE_CHECKING, Any
from uuid import UUID

import numpy as np
from django.db import IntegrityError, transaction
from django.utils import timezone

from reedcore.acoustics import QualityReason, TakeKind, analyse
from reedcore.acoustics.track.weighting import Weighting, weighted_by_db
from reedcore.acoustics.voice.levels import steady_level_dbfs, steady_samples
from reedcore.baseline.steps import BaselineStep, Capture
from reedcore.baseline.take_figures import take_figures
from reedcore.measures.trial import check_length
from web.clients.models import Client
from web.sound.capture import was_processed
from web.sound.consumers import KeyTaken
from web.sound.models import Calibration
from web.sound.pool import POOL
from web.ui.saving import lock_row, save_fields

from ..models import Baseline, BaselineTrial

if TYPE_CHECKING:
    from web.accounts.models import User

#: A sheet begun within this time and still empty is the same sheet.
_BEGUN_ONCE = timedelta(minutes=1)


@transaction.atomic
def begin_baseline(client: Client, *, by: User, at: Any = None) -> Baseline:
    """Return a new sheet; the one from before stays as it is. One that the same person has just
    begun is the same one."""
    lock_row(client)
    at = at or timezone.now()
    begun = client.baselines.filter(begun_by=by, closed_at=None, trials=None, entries={})
    just_now = begun.filter(begun_at__gt=at - _BEGUN_ONCE, begun_at__lte=at).first()
    return just_now or Baseline.objects.create(client=client, begun_at=at, begun_by=by)


def record_sound(
    baseline: Baseline,
    step: BaselineStep,
    *,
    key: UUID,
    source: str,
    samples: np.ndarray,
    rate_hz: int,
    capture: dict | None = None,
    at: Any = None,
) -> BaselineTrial:
    """Measure a take for its step and store it, or return the trial stored under its key.

    Raises:
        reedcore.errors.Refusal: it cannot be measured; nothing is kept.
        PoolBusy: too many recordings wait to be measured.
        KeyTaken: the key is another trial's.
    """
    saved = _saved_before(baseline, step, key)
    if saved:
        return saved
    capture = capture or {}
    check_length(len(samples) / rate_hz)
    if step.capture is Capture.LEVEL:
        frames = POOL.run(analyse, samples, rate_hz).frames
        level, steady = steady_level_dbfs(frames), steady_samples(frames, samples, rate_hz)
        weighted = {
            each.value: round(weighted_by_db(steady, rate_hz, each), 2) for each in Weighting
        }
        figures: dict[str, Any] = {"level_dbfs": round(level, 2), "weighted_by_db": weighted}
        reasons, snr = [], None
    else:
        analyse_take = partial(
            analyse,
            task=TakeKind(step.capture.value),
            min_hold_s=0.5,
            is_processed=was_processed(capture),
        )
        analysis = POOL.run(analyse_take, samples, rate_hz)
        figures = take_figures(analysis, step)
        reasons = [reason.value for reason in analysis.quality.reasons]
        if step.capture is Capture.SPEECH and figures:  # Speech has no minimum hold.
            reasons = [code for code in reasons if code != QualityReason.NO_VOICE.value]
        snr = round(analysis.quality.snr_db, 1) if np.isfinite(analysis.quality.snr_db) else None
    trial = BaselineTrial(
        source=source, figures=figures, reasons=reasons, snr_db=snr, capture=capture
    )
    return _keep(trial, baseline, step, key, at)


def record_typed(
    baseline: Baseline,
    step: BaselineStep,
    *,
    key: UUID,
    figures: dict,
    source: str = "typed",
    at: Any = None,
) -> BaselineTrial:
    """Keep a figure that was read off elsewhere."""
    saved = _saved_before(baseline, step, key)
    if saved:
        return saved
    return _keep(BaselineTrial(source=source, figures=figures), baseline, step, key, at)


def _keep(
    trial: BaselineTrial, baseline: Baseline, step: BaselineStep, key: UUID, at: Any
) -> BaselineTrial:
    trial.key, trial.baseline, trial.step = key, baseline, step.code
    trial.made_at = at or timezone.now()
    try:
        with transaction.atomic():
            trial.save(force_insert=True)
    except IntegrityError:
        # Two connections sent the same take at once: the first one becomes the trial.
        saved = _saved_before(baseline, step, key)
        if saved is None:
            raise
        return saved
    return trial


def _saved_before(baseline: Baseline, step: BaselineStep, key: UUID) -> BaselineTrial | None:
    saved = BaselineTrial.objects.filter(pk=key).first()
    if saved and (saved.baseline_id, saved.step) != (baseline.pk, step.code):
        raise KeyTaken
    return saved


@transaction.atomic
def discard_trial(trial: BaselineTrial, *, is_discarded: bool) -> None:
    """Leave a trial out, or count it again; its row stays either way."""
    trial.discarded_at = timezone.now() if is_discarded else None
    save_fields(trial, "discarded_at")


@transaction.atomic
def note_trial(trial: BaselineTrial, *, note: str) -> None:
    """Store a remark about one trial."""
    trial.note = note
    save_fields(trial, "note")


@transaction.atomic
def choose_trial(trial: BaselineTrial, *, because: str) -> None:
    """Take this one instead of the best of its step; without a reason the best counts again."""
    lock_row(trial.baseline)  # If two people choose at once, only one choice is kept.
    # Save each one separately so that every change is in the history.
    for beside in trial.baseline.trials.filter(step=trial.step, chosen=True):
        beside.chosen, beside.chosen_because = False, ""
        beside.save(update_fields=["chosen", "chosen_because"])
    if because:
        trial.chosen, trial.chosen_because = True, because
        save_fields(trial, "chosen", "chosen_because")


@transaction.atomic
def keep_entries(baseline: Baseline, entries: dict) -> Baseline:
    """Store typed figures in addition to the existing ones."""
    baseline = Baseline.objects.select_for_update().get(pk=baseline.pk)
    baseline.entries = {**baseline.entries, **entries}
    baseline.save(update_fields=["entries"])
    return baseline


def record_calibration(
    trial: BaselineTrial, *, by: Any, meter_db_spl: float, weighting: str, on: Any = None
) -> Calibration:
    """Store the meter's reading with the device's recording of the same sound.

    Raises:
        reedcore.errors.ValueOutOfRange: a reading that no room has.
    """
    calibration = Calibration(
        clinic=trial.baseline.client.clinic,
        device=trial.capture.get("device", ""),
        browser=trial.capture.get("browser", ""),
        distance_m=trial.baseline.distance_m,
        weighting=weighting,
        meter_db_spl=meter_db_spl,
        recorded_dbfs=trial.figures["level_dbfs"],
        weighted_by_db=trial.figures.get("weighted_by_db", {}).get(weighting),
        made_on=on or timezone.localdate(),
        made_by=by,
        simulated=trial.source == BaselineTrial.Source.SIMULATED,
    )
    _ = calibration.value  # Reject impossible values before anything is saved.
    calibration.save(force_insert=True)
    return calibration


@transaction.atomic
def close_baseline(baseline: Baseline) -> None:
    """Close the sheet; it can still be read and compared."""
    baseline.closed_at = timezone.now()
    save_fields(baseline, "closed_at")
