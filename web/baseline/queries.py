"""Baseline sheets, targets in force, and the clinic's reference table."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.shortcuts import get_object_or_404

from reedcore.baseline import ReferenceRow
from web.accounts.access_log import note_record
from web.clients.models import Client

from .models import Baseline, BaselineTrial, Target

if TYPE_CHECKING:
    from web.accounts.models import Clinic


def baseline_seen_by(user: Any, pk: int) -> Baseline:
    """Return that sheet if this user may see its client."""
    sheets = Baseline.objects.filter(client__in=user.visible_clients())
    sheet = get_object_or_404(sheets.select_related("client__clinic", "begun_by"), pk=pk)
    note_record(sheet.client_id)
    return sheet


def baseline_trial_seen_by(user: Any, key: UUID) -> BaselineTrial:
    """Return that trial, or answer 404."""
    trials = BaselineTrial.objects.filter(baseline__client__in=user.visible_clients())
    trial = get_object_or_404(trials.select_related("baseline__client__clinic"), pk=key)
    note_record(trial.baseline.client_id)
    return trial


def targets_in_force(client: Client) -> dict[str, Target]:
    """Return the newest decision of each kind."""
    found = {}
    for target in client.targets.select_related("decided_by", "baseline").order_by(
        "decided_at", "pk"
    ):
        found[target.kind] = target
    return found


def reference_rows(clinic: Clinic) -> list[ReferenceRow]:
    """Return the clinic's table as the core reads it."""
    return [
        ReferenceRow(
            row.measure, row.age_band or None, row.voice or None, row.low, row.high, row.source
        )
        for row in clinic.reference_figures.all()
    ]
