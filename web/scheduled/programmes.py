"""The nightly check of all programmes in force."""

from web.clients.models import Client
from web.programmes.actions import check_again
from web.ui.isolation import each_by_itself


def check_programmes() -> None:
    """Check each active client's programme as the record, the day and the rules now stand."""
    active = Client.objects.filter(archived_at=None).select_related("clinic")
    each_by_itself(active, check_again, what="checking programmes in force")
