"""Unsubscribe links of reminders: they contain no name and need no sign-in."""

from django.conf import settings
from django.core import signing
from django.db import transaction
from django.http import Http404
from django.urls import reverse

from web.clients.models import Client

_SALT = "still-reed:reminders"


def off_link(client: Client) -> str:
    """Return where this client turns them off."""
    token = signing.dumps(client.pk, salt=_SALT)
    return f"{settings.SITE_URL}{reverse('messages:reminders_off', args=[token])}"


def client_of(token: str) -> Client:
    """Return the client of a link; 404 for a link that the site did not sign."""
    try:
        pk = signing.loads(token, salt=_SALT)
    except signing.BadSignature:
        raise Http404 from None
    client = Client.objects.filter(pk=pk).select_related("clinic").first()
    if client is None:
        raise Http404
    return client


@transaction.atomic
def turn_off(client: Client) -> None:
    """Turn reminders off; an open record form then counts as outdated."""
    row = Client.objects.select_for_update().get(pk=client.pk)
    row.reminders = False
    row.edition += 1
    row.save(update_fields=["reminders", "edition"])
