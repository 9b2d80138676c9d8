"""What can happen to the record itself."""

from django.db import transaction
from django.utils import timezone

from web.accounts.models import User

from ..models import Client, Erasure
from ..signals import record_changed


class Outdated(Exception):
    """Somebody else saved the record in the meantime; ``current`` is what stands now."""

    def __init__(self, current: Client) -> None:
        super().__init__(f"edition {current.edition}")
        self.current = current


@transaction.atomic
def save_record(client: Client, *, edition: int | None) -> Client:
    """Saves a new record (``edition`` None) or a changed one that nobody else has changed since.

    Raises:
        Outdated: the record is no longer the edition that was opened; nothing is saved.
    """
    if edition is not None:
        stored = Client.objects.select_for_update().get(pk=client.pk)
        if stored.edition != edition:
            raise Outdated(stored)
        client.edition = edition + 1
    client.save()
    if edition is not None:
        record_changed.send(sender=Client, client=client)
    return client


def archive_client(client: Client) -> None:
    """Takes the client off the list; everything stays, and practice is closed."""
    client.archived_at = timezone.now()
    client.save(update_fields=["archived_at"])


@transaction.atomic
def restore_client(client: Client, *, by: User) -> None:
    """Puts an archived client back; an erasure that waits for it is taken back with it."""
    client.archived_at = None
    client.save(update_fields=["archived_at"])
    waiting = Erasure.objects.filter(record=client.pk, taken_back_at=None, done_at=None)
    waiting.update(taken_back_at=timezone.now(), taken_back_by=by)
