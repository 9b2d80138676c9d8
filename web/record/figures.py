"""Figures for fitting a programme: from the record, the targets and the newest baseline."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.utils import timezone

from reedcore.programme.starting import AcceptedTarget, ClientFigures
from web.baseline.queries import targets_in_force

from .client_context import newest_summary

if TYPE_CHECKING:
    from web.clients.models import Client


def client_figures(client: Client) -> ClientFigures:
    """Return the client's current figures."""
    found = newest_summary(client)
    return ClientFigures(
        voice=client.voice,
        wording=client.wording(on=timezone.localdate()),
        is_child=client.is_child,
        props=tuple(client.props),
        comfortable=found.comfortable_range if found else None,
        longest_hiss_s=found.longest_s.seconds if found and found.longest_s else None,
        targets={
            kind: AcceptedTarget(target.values or {}, target.counts or "")
            for kind, target in targets_in_force(client).items()
        },
        a4_hz=client.clinic.a4_hz,
    )
