"""Deciding on proposed targets."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.utils import timezone

from ..models import Baseline, Target

if TYPE_CHECKING:
    from reedcore.targets.proposing import TargetProposal
    from web.accounts.models import User


def decide_target(
    baseline: Baseline,
    proposal: TargetProposal,
    *,
    by: User,
    decision: str,
    values: dict,
    counts: str = "",
    reason: str = "",
    at: Any = None,
) -> Target:
    """Store a decision with the proposal and its basis."""
    return Target.objects.create(
        client=baseline.client,
        baseline=baseline,
        kind=proposal.kind.value,
        rule=proposal.rule.value,
        decision=decision,
        values=values,
        proposed=dict(proposal.values),
        inputs=dict(proposal.inputs),
        counts=counts,
        reason=reason,
        decided_at=at or timezone.now(),
        decided_by=by,
    )
