"""Prescribing."""

from django.db import transaction
from django.utils import timezone

from web.clients.models import Client
from web.clients.queries import blocks

from .models import PrescribedTask, Programme


class NotCleared(Exception):
    """Something on record stands against prescribing; ``blocks`` says what."""

    def __init__(self, found) -> None:
        super().__init__(", ".join(found))
        self.blocks = found


@transaction.atomic
def publish_programme(client: Client, *, by, task: PrescribedTask, at=None) -> Programme:
    """Makes the next version, holding this one task; earlier versions stay as they are.

    Raises:
        NotCleared: a red flag is open, or the record forbids any voicing; nothing is published.
    """
    # the row lock keeps two clinicians from making the same version number
    client = Client.objects.select_for_update().select_related("clinic").get(pk=client.pk)
    stands = blocks(client, on=timezone.localdate())
    if stands:
        raise NotCleared(stands)
    newest = client.programmes.order_by("-version").first()
    programme = Programme.objects.create(
        client=client,
        version=newest.version + 1 if newest else 1,
        published_at=at or timezone.now(),
        published_by=by,
    )
    task.programme = programme
    task.full_clean(exclude=["programme"])
    task.save(force_insert=True)
    return programme
