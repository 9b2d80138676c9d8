"""Prepare records restored from a backup before users work with them.

The backup is older than the moment that it was needed in. What the journal says was closed, erased
or made since is carried out again, and a new epoch asks the clients' devices for what they sent.
"""

from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from django.db import transaction

from web.accounts.models import User
from web.accounts.sessions import end_sessions
from web.clients.actions import revoke_practice_access
from web.clients.actions.erasing import erase_again
from web.clients.models import Client, Helper
from web.keeping import journal
from web.keeping.epoch import begin_epoch
from web.keeping.journal import JournalEntry
from web.practice.sealing import recover_key

CLOSED, GONE, ACCOUNTS, KEYS, SHUT = (
    "links closed", "records erased", "accounts closed", "device keys put back",
    "device keys that no key of the site's opens",
)  # fmt: skip


@transaction.atomic
def finish_restore(folders: list[Path], *, restored_to: datetime) -> dict[str, int]:
    """Apply the journal's events, and begin a new epoch.

    It may be done twice: what is closed stays closed, and each time a new epoch begins.

    Args:
        folders: where the journal lies; a line that stands in two counts once.
        restored_to: the moment that the records are from.

    Returns:
        How much of what was done.
    """
    done = dict.fromkeys((CLOSED, GONE, ACCOUNTS, KEYS, SHUT), 0)
    for line in journal.lines(*folders):
        # Events before the dump are in the records already; what was undone since stays undone.
        if line.at >= restored_to or line.what == journal.DEVICE_KEY:
            what = _DOES[line.what](line) if line.what in _DOES else ""
            if what:
                done[what] += 1
    begin_epoch(restored_to)
    return done


def _link(line: JournalEntry) -> str:
    for kind in (Client, Helper):
        for link in kind.objects.exclude(practice_code=None):
            if journal.digest(link.practice_code or "") == line.facts.get("code"):
                revoke_practice_access(link)
                return CLOSED
    return ""


def _account(line: JournalEntry, *, is_active: bool) -> str:
    for user in User.objects.filter(role__in=User.AT_WORK).exclude(is_active=is_active):
        if journal.digest(user.username) == line.facts.get("account"):
            user.is_active = is_active
            user.set_unusable_password()
            user.save(update_fields=["is_active", "password"])
            end_sessions(user)
            return "" if is_active else ACCOUNTS
    return ""


def _erase_again(line: JournalEntry) -> str:
    created = datetime.fromisoformat(line.facts["created"])
    return GONE if erase_again(line.facts["record"], created=created, at=line.at) else ""


def _key(line: JournalEntry) -> str:
    client = Client.objects.filter(
        pk=line.facts["record"], created_at=datetime.fromisoformat(line.facts["created"])
    ).first()
    if client is None:
        return ""
    return KEYS if recover_key(client, line.facts["sealed"]) else SHUT


_DOES: dict[str, Callable[[JournalEntry], str]] = {
    journal.LINK_CLOSED: _link,
    journal.ACCOUNT_CLOSED: lambda line: _account(line, is_active=False),
    journal.ACCOUNT_OPENED: lambda line: _account(line, is_active=True),
    journal.ERASED: _erase_again,
    journal.DEVICE_KEY: _key,
}
