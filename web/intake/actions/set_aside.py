"""Set a trial aside, or count it again, as the client reports.

A trial that is set aside keeps what was measured; only :meth:`TrialQuerySet.counted` leaves it out.
"""

from __future__ import annotations

from uuid import UUID

from django.db import transaction
from django.db.models import Q

from web.clients.models import Client
from web.record.models import SelfReport
from web.ui.saving import lock_row


@transaction.atomic
def apply_report(client: Client, key: UUID) -> None:
    """Set a trial aside, or count it again, once a report about it is stored.

    The lock waits for a trial that is being stored: its insert holds a share of the client's row.
    """
    lock_row(client)
    apply_reports_before(client, key)


def apply_reports_before(client: Client, key: UUID) -> None:
    """Apply the client's newest report about a trial, whichever of the two arrived first.

    A report from before a clinician's decision changes nothing.
    """
    reports = SelfReport.objects.filter(
        client=client, kind=SelfReport.Kind.SET_ASIDE, value__trial=str(key)
    )
    newest = reports.order_by("-said_at", "-received_at").first()
    if newest is None:
        return
    why = newest.value["why"]
    earlier = Q(reviewed_at=None) | Q(reviewed_at__lt=newest.received_at)
    client.trials.filter(earlier, pk=key).update(set_aside="" if why == "counts" else why)
