"""What can happen to a client: the record, the screen, the baseline, the targets, the way in."""

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
from .baseline import (
    begin_baseline,
    choose_trial,
    close_baseline,
    discard_trial,
    keep_entries,
    note_trial,
    record_calibration,
    record_sound,
    record_typed,
)
from .people import NotOwner
from .record import Outdated, archive_client, begin_record, restore_client, save_record
from .screening import declare_safe, record_screen, refer
from .stops import add_words, advice, clear_stop, mark_read, record_stop, take_back
from .targets import decide_target
from .telling import about_stops, deliver, pass_on_stops, tell_all, tell_of

__all__ = [
    "AlreadyChosen",
    "LinkVoid",
    "NotOwner",
    "Outdated",
    "PinWaits",
    "about_stops",
    "add_helper",
    "add_words",
    "advice",
    "archive_client",
    "begin_baseline",
    "begin_record",
    "change_pin",
    "choose_pin",
    "choose_trial",
    "clear_stop",
    "close_baseline",
    "decide_target",
    "declare_safe",
    "deliver",
    "discard_trial",
    "end_helper",
    "issue_practice_access",
    "keep_entries",
    "mark_read",
    "note_trial",
    "pass_on_stops",
    "record_calibration",
    "record_screen",
    "record_sound",
    "record_stop",
    "record_typed",
    "refer",
    "restore_client",
    "revoke_practice_access",
    "save_record",
    "set_practice_access",
    "take_back",
    "tell_all",
    "tell_of",
    "try_pin",
]
