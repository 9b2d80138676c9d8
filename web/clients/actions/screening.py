"""Asking the red flags, and what is decided about those that were said."""

from django.db import transaction
from django.utils import timezone

from ..models import Client, Screen


@transaction.atomic
def record_screen(
    client: Client, *, by, flags: list[str], cautions: list[str], note: str, at=None
) -> Screen:
    """Keeps the answers, and the cautions on the record."""
    client = Client.objects.select_for_update().get(pk=client.pk)
    client.cautions = sorted(cautions)
    client.edition += 1
    client.save(update_fields=["cautions", "edition"])
    return Screen.objects.create(
        client=client, asked_at=at or timezone.now(), asked_by=by, flags=sorted(flags), note=note
    )


def declare_safe(screen: Screen, *, by, because: str) -> None:
    """The clinician writes why it is safe to go on in spite of the flags."""
    screen.safe_because, screen.safe_by, screen.safe_at = because, by, timezone.now()
    screen.save(update_fields=["safe_because", "safe_by", "safe_at"])


def refer(screen: Screen, *, to: str) -> None:
    """The client is sent on; the flags stay open until somebody writes that it is safe."""
    screen.referred_at, screen.referred_to = timezone.now(), to
    screen.save(update_fields=["referred_at", "referred_to"])
