"""A client’s own way in."""

import secrets
from datetime import datetime, timedelta

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
    account = get_user_model().objects.select_for_update().get(client_record=client)
    if account.has_usable_password():
        raise AlreadyChosen
    account.set_password(pin)
    account.save()


#: Wrong PINs at a link, whoever types them from wherever: after so many it waits, after so many it
#: is void.
WRONG_BEFORE_WAITING, WRONG_BEFORE_VOID = 6, 20
WAITS = timedelta(minutes=15)


class PinWaits(Exception):
    """Too many were wrong: no PIN is looked at until ``until``."""

    def __init__(self, until: datetime) -> None:
        super().__init__(until.isoformat())
        self.until = until


class LinkVoid(Exception):
    """So many were wrong that this link opens no more; the clinic gives a new one."""


@transaction.atomic
def try_pin(client: Client, *, pin: str) -> bool:
    """Whether a PIN opens a link; the wrong ones are counted, from wherever they come.

    Raises:
        PinWaits: it was not even looked at.
        LinkVoid: the link opens no more.
    """
    link = (
        Client.objects.select_for_update(of=("self",)).select_related("account").get(pk=client.pk)
    )
    now = timezone.now()
    if link.link_voided_at is not None:
        raise LinkVoid
    if link.pin_waits_until is not None and now < link.pin_waits_until:
        raise PinWaits(link.pin_waits_until)
    right = link.account is not None and link.account.check_password(pin)
    link.wrong_pins = 0 if right else link.wrong_pins + 1
    link.pin_waits_until = None
    if link.wrong_pins and link.wrong_pins % WRONG_BEFORE_WAITING == 0:
        link.pin_waits_until = now + WAITS
    if link.wrong_pins >= WRONG_BEFORE_VOID:
        link.link_voided_at = now
    link.save(update_fields=["wrong_pins", "pin_waits_until", "link_voided_at"])
    return right


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
    client.wrong_pins, client.pin_waits_until, client.link_voided_at = 0, None, None
    client.save(
        update_fields=[
            "account",
            "practice_code",
            "practice_issued_at",
            "wrong_pins",
            "pin_waits_until",
            "link_voided_at",
        ]
    )
