"""What can happen to a client: the record, the screen, the baseline, the targets, the way in."""

from .access import issue_practice_access, set_practice_access
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
from .record import Outdated, archive_client, restore_client, save_record
from .screening import declare_safe, record_screen, refer
from .targets import decide_target

__all__ = [
    "Outdated",
    "archive_client",
    "begin_baseline",
    "choose_trial",
    "close_baseline",
    "decide_target",
    "declare_safe",
    "discard_trial",
    "issue_practice_access",
    "keep_entries",
    "note_trial",
    "record_calibration",
    "record_screen",
    "record_sound",
    "record_typed",
    "refer",
    "restore_client",
    "save_record",
    "set_practice_access",
]
