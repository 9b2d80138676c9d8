"""Rows of the database as the values that the open formats are written from."""

from django.utils import timezone

from reedcore.formats.trials_csv import TrialRow
from web.practice.models import Trial
from web.programmes.queries import note_name

#: What was measured from its sound.
HEARD_FROM = (Trial.Source.MICROPHONE, Trial.Source.SIMULATED, Trial.Source.FILE)


def trial_row(trial):
    """One try as a row of the CSV."""
    by_hand = trial.source not in HEARD_FROM
    unheard = trial.total_s is None
    return TrialRow(
        try_id=str(trial.key),
        performed_at=timezone.localtime(trial.performed_at),
        client=trial.task.programme.client.name,
        programme_version=trial.task.programme.version,
        task=trial.task.task_code or f"hold {trial.task.sound}",
        note=note_name(trial.task),
        source=trial.source,
        target_s=trial.asked_s,
        seconds_counted=trial.task.counts,
        total_s=trial.total_s,
        steady_s=trial.steady_s,
        pitch_median_hz=trial.median_hz,
        pitch_error_cents=trial.error_cents,
        pitch_spread_cents=trial.spread_cents,
        pitch_drift_cents=trial.drift_cents,
        on_pitch_share=trial.share_on_pitch,
        breaks=None if by_hand or unheard else len(trial.breaks),
        level_relative_dbfs=trial.level_mean_dbfs,
        snr_db=trial.snr_db,
        outcome=trial.outcome,
        not_judged_because=" ".join(
            part["why"] for part in trial.parts if part["verdict"] == trial.Outcome.NOT_JUDGED
        ),
    )
