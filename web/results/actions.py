"""Decisions about single trials."""

from __future__ import annotations

from django.utils import timezone

from web.accounts.models import User
from web.record.models import Trial


def review_trial(trial: Trial, *, by: User, is_counted: bool) -> None:
    """Record a clinician's decision on whether a trial counts; its measures stay."""
    Trial.objects.filter(pk=trial.pk).update(
        set_aside="" if is_counted else Trial.SetAside.BY_CLINICIAN,
        reviewed_at=timezone.now(),
        reviewed_by=by,
    )
