"""Prescribing."""

from django.db import transaction
from django.utils import timezone

from web.clients.models import Client

from .models import PrescribedTask, Programme


@transaction.atomic
def publish_programme(client: Client, *, by, task: PrescribedTask, at=None) -> Programme:
    """Makes the next version, holding this one task; earlier versions stay as they are."""
    # the row lock keeps two clinicians from making the same version number
    Client.objects.select_for_update().get(pk=client.pk)
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
