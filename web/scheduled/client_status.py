"""Keeps the status of clients current, so that the board need not compute it."""

from django.utils import timezone

from web.accounts.models import Clinic
from web.decisions.client_status import statuses
from web.ui.isolation import process_each

#: Clients updated in one batch.
BATCH = 50


def keep_statuses() -> None:
    """Bring every active client's status up to date, clinic by clinic."""
    process_each(Clinic.objects.all(), _keep_statuses, what="keeping the board")


def _keep_statuses(clinic: Clinic) -> None:
    clients = list(clinic.clients.filter(archived_at=None).select_related("clinic"))
    for start in range(0, len(clients), BATCH):
        statuses(clients[start : start + BATCH], now=timezone.now())
