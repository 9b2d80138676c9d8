"""A client’s own way in."""

import secrets

from django.contrib.auth import get_user_model
from django.db import transaction

from ..models import Client, new_practice_code

PIN_DIGITS = 6


@transaction.atomic
def issue_practice_access(client: Client) -> str:
    """A new link and PIN, the old ones void at once. The PIN is returned once and never again."""
    client = Client.objects.select_for_update().get(pk=client.pk)
    users = get_user_model()
    pin = f"{secrets.randbelow(10**PIN_DIGITS):0{PIN_DIGITS}}"
    set_practice_access(
        client,
        account=client.account
        or users(
            username=f"client-{secrets.token_hex(8)}",
            role=users.Role.CLIENT,
            clinic=client.clinic,
        ),
        code=new_practice_code(),
        pin=pin,
    )
    return pin


def set_practice_access(client: Client, *, account, code: str, pin: str) -> None:
    """Ties a client to an account that opens with this code and PIN.

    A new password ends every session that the account has open, on every device.
    """
    account.set_password(pin)
    account.save()
    client.account, client.practice_code = account, code
    client.save(update_fields=["account", "practice_code"])
