"""Practice links of clients and their helpers."""

from __future__ import annotations

import secrets
from datetime import datetime, timedelta
from typing import TYPE_CHECKING, Any

from django.contrib.auth import get_user_model
from django.db import transaction
from django.utils import timezone

from web.keeping import journal
from web.ui.saving import lock_row, save_fields

from ..models import Client, Helper
from ..practice_link import LINK_FIELDS, PracticeLink, new_practice_code

if TYPE_CHECKING:
    from web.accounts.models import User


class AlreadyChosen(Exception):
    """The PIN of this link has already been chosen."""


@transaction.atomic
def issue_practice_access(link: Client | Helper) -> None:
    """Create a new link and invalidate the old one on every device. Its owner chooses the PIN."""
    link = _lock_link_owner(link)
    _note_closed(link)
    users = get_user_model()
    role = users.Role.CLIENT if isinstance(link, Client) else users.Role.HELPER
    account = link.account or users(
        username=f"{role}-{secrets.token_hex(8)}", role=role, clinic=link.clinic
    )
    account.set_unusable_password()
    _connect_account(link, account=_save_password(account), code=new_practice_code())


def _note_closed(link: Client | Helper) -> None:
    """Record the disabled link, so that it stays disabled after a restore."""
    if link.practice_code:
        journal.note(journal.LINK_CLOSED, code=journal.digest(link.practice_code))


def _save_password(account: User) -> User:
    """Save the account's password and return the account: a new one, or the current row."""
    if account.pk is None:
        account.save(force_insert=True)
        return account
    return save_fields(account, "password")


def _lock_link_owner(link: Any) -> Client | Helper:
    own = type(link).objects.select_for_update(of=("self",)).select_related("account")
    return own.get(pk=link.pk)


@transaction.atomic
def choose_pin(link: PracticeLink, *, pin: str) -> None:
    """Set the PIN of a link that has none yet.

    Raises:
        AlreadyChosen: it has one; changing it needs the current PIN, or a new link.
    """
    account = get_user_model().objects.select_for_update(of=("self",)).get(pk=link.account_id or 0)
    if account.has_usable_password():
        raise AlreadyChosen
    account.set_password(pin)
    account.save(update_fields=["password"])


def change_pin(link: PracticeLink, *, old: str, pin: str) -> bool:
    """Change the PIN; the current one is required, and wrong attempts count as at sign-in.

    Raises:
        PinWaits, LinkVoid: as ``try_pin`` says.
    """
    if link.account is None or not try_pin(link, pin=old):
        return False
    link.account.set_password(pin)
    link.account.save(update_fields=["password"])
    return True


#: Wrong PINs per link from any address: first a delay, then the link is disabled.
WRONG_BEFORE_WAITING, WRONG_BEFORE_VOID = 6, 20
WAITS = timedelta(minutes=15)


class PinWaits(Exception):
    """Too many were wrong: no PIN is looked at until ``until``."""

    def __init__(self, until: datetime) -> None:
        super().__init__(until.isoformat())
        self.until = until


class LinkVoid(Exception):
    """Too many wrong PINs: the link is disabled until the clinic issues a new one."""


@transaction.atomic
def try_pin(link: PracticeLink, *, pin: str) -> bool:
    """Return whether a PIN opens a link; wrong attempts are counted across devices.

    Raises:
        PinWaits: it was not even looked at.
        LinkVoid: the link opens no more.
    """
    link = _lock_link_owner(link)
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
        _note_closed(link)
    link.save(update_fields=["wrong_pins", "pin_waits_until", "link_voided_at"])
    return right


@transaction.atomic
def revoke_practice_access(link: PracticeLink) -> None:
    """Disable the practice link and sign out every device."""
    link = _lock_link_owner(link)
    _note_closed(link)
    if link.account:
        link.account.set_unusable_password()
        link.account.save(update_fields=["password"])
    link.practice_code = link.practice_issued_at = None
    link.save(update_fields=["practice_code", "practice_issued_at"])


@transaction.atomic
def set_practice_access(link: PracticeLink, *, account: User, code: str, hashed_pin: str) -> None:
    """Connect a client to an account with this code and PIN, as the demo needs it."""
    account.password = hashed_pin
    _connect_account(link, account=_save_password(account), code=code)


def _connect_account(link: Any, *, account: User, code: Any) -> None:
    link.account, link.practice_code = account, code
    link.practice_issued_at = timezone.now()
    link.wrong_pins, link.pin_waits_until, link.link_voided_at = 0, None, None
    link.save(update_fields=LINK_FIELDS)


@transaction.atomic
def add_helper(client: Client, *, name: str, relation: str) -> Helper:
    """Add a helper with a practice link of their own; if the same helper exists already,
    return that one."""
    lock_row(client)
    same = client.helpers.filter(name=name, relation=relation, ended_at=None).first()
    if same is not None:
        return same
    helper = Helper.objects.create(client=client, name=name, relation=relation)
    issue_practice_access(helper)
    helper.refresh_from_db()
    return helper


@transaction.atomic
def end_helper(helper: Helper) -> None:
    """End a helper's access; earlier sessions keep the name."""
    revoke_practice_access(helper)
    stored = lock_row(helper)
    stored.ended_at = stored.ended_at or timezone.now()
    stored.save(update_fields=["ended_at"])
