"""Store what happens during practice: trials, self-reports, and the start and end of sessions."""

from .entries import ReceivedEntry, note_not_taken, open_session, receive_entry, take_stop
from .logs import record_file, record_log
from .takes import BY_HAND_S, record_by_hand, record_reference, record_sound, record_unmeasured_set

__all__ = [
    "BY_HAND_S",
    "ReceivedEntry",
    "note_not_taken",
    "open_session",
    "receive_entry",
    "record_by_hand",
    "record_file",
    "record_log",
    "record_reference",
    "record_sound",
    "record_unmeasured_set",
    "take_stop",
]
