"""The sheets of the database, summed up by the core."""

from __future__ import annotations

from typing import Any

from django.utils import timezone

from reedcore.baseline.sheet import BaselineSummary, Sheet, summarise

from .models import Baseline


def summary_of(baseline: Baseline, trials: list[Any] | None = None) -> BaselineSummary:
    """Return the summary of a sheet; its trials are loaded unless given."""
    sheet = Sheet(timezone.localdate(baseline.begun_at), baseline.entries, baseline.distance_m)
    return summarise(sheet, list(baseline.trials.all()) if trials is None else trials)
