"""Actions on the record itself."""

from django.db import transaction
from django.utils import timezone
from django.utils.translation import gettext

from web.accounts.models import User
from web.ui.saving import lock_row, save_fields

from ..models import Client, Erasure
from ..signals import record_changed
from .people import refuse_unless_owner


class RecordChanged(Exception):
    """Another user saved the record in between; ``current`` is the saved record."""

    def __init__(self, current: Client) -> None:
        super().__init__(gettext("edition {edition}").format(edition=current.edition))
        self.current = current


def begin_record(client: Client) -> Client:
    """Save a new record."""
    client.save(force_insert=True)
    return client


@transaction.atomic
def save_record(client: Client, *, fields: list[str], edition: int, by: User) -> Client:
    """Save these fields of a record unless another user changed it since it was opened.

    Args:
        edition: the one that was opened.

    Raises:
        RecordChanged: the record is no longer that edition; nothing is saved.
        NotOwner: reassigned by a user who is neither the client's own clinician
            nor the lead.
    """
    stored = lock_row(client)
    if stored.edition != edition:
        raise RecordChanged(stored)
    if "clinician" in fields and stored.clinician_id != client.clinician_id:
        refuse_unless_owner(stored, by)
    client.edition = edition + 1
    stored = save_fields(client, *fields, "edition")
    record_changed.send(sender=Client, client=stored)
    return stored


@transaction.atomic
def archive_client(client: Client) -> None:
    """Take the client off the list; everything stays, and practice is closed."""
    client.archived_at = timezone.now()
    save_fields(client, "archived_at")


@transaction.atomic
def restore_client(client: Client, *, by: User) -> None:
    """Restore an archived client; a planned erasure is cancelled."""
    client.archived_at = None
    save_fields(client, "archived_at")
    waiting = Erasure.objects.filter(record=client.pk, cancelled_at=None, done_at=None)
    waiting.update(cancelled_at=timezone.now(), cancelled_by=by)
