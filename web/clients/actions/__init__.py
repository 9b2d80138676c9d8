"""Actions on a client: the record, sharing and helpers, practice links."""

from .access import (
    AlreadyChosen,
    LinkVoid,
    PinWaits,
    add_helper,
    change_pin,
    choose_pin,
    end_helper,
    issue_practice_access,
    revoke_practice_access,
    set_practice_access,
    try_pin,
)
from .people import NotOwner
from .record import RecordChanged, archive_client, begin_record, restore_client, save_record

__all__ = [
    "AlreadyChosen",
    "LinkVoid",
    "NotOwner",
    "PinWaits",
    "RecordChanged",
    "add_helper",
    "archive_client",
    "begin_record",
    "change_pin",
    "choose_pin",
    "end_helper",
    "issue_practice_access",
    "restore_client",
    "revoke_practice_access",
    "save_record",
    "set_practice_access",
    "try_pin",
]
