"""The nightly check of all programmes in force."""

from web.clients.models import Client
from web.programmes.actions import check_again
from web.ui.isolation import process_each


def check_programmes() -> None:
    """Check each active client's programme against the current record, date and rules."""
    active = Client.objects.filter(archived_at=None).select_related("clinic")
    process_each(active, check_again, what="checking programmes in force")
