"""A client’s own way in."""

import secrets

from django.contrib.auth import get_user_model
from django.db import transaction
from django.utils import timezone

from ..models import Client, new_practice_code


class AlreadyChosen(Exception):
    """Somebody has chosen the PIN of this link before."""


@transaction.atomic
def issue_practice_access(client: Client) -> None:
    """A new link, the old one void at once, on every device. Its PIN the client chooses."""
    client = Client.objects.select_for_update().get(pk=client.pk)
    users = get_user_model()
    account = client.account or users(
        username=f"client-{secrets.token_hex(8)}", role=users.Role.CLIENT, clinic=client.clinic
    )
    account.set_unusable_password()
    account.save()
    _tie(client, account=account, code=new_practice_code())


@transaction.atomic
def choose_pin(client: Client, *, pin: str) -> None:
    """The PIN of a link that has none yet.

    Raises:
        AlreadyChosen: it has; only a new link can have another.
    """
    account = type(client.account).objects.select_for_update().get(pk=client.account_id)
    if account.has_usable_password():
        raise AlreadyChosen
    account.set_password(pin)
    account.save()


@transaction.atomic
def revoke_practice_access(client: Client) -> None:
    """No way in any more; every device that was in is out."""
    client = Client.objects.select_for_update().get(pk=client.pk)
    if client.account:
        client.account.set_unusable_password()
        client.account.save()
    client.practice_code = client.practice_issued_at = None
    client.save(update_fields=["practice_code", "practice_issued_at"])


def set_practice_access(client: Client, *, account, code: str, hashed_pin: str) -> None:
    """Ties a client to an account that opens with this code and PIN, as the demo needs it."""
    account.password = hashed_pin
    account.save()
    _tie(client, account=account, code=code)


def _tie(client, *, account, code):
    client.account, client.practice_code = account, code
    client.practice_issued_at = timezone.now()
    client.save(update_fields=["account", "practice_code", "practice_issued_at"])
