"""Actions on baseline sheets and on targets."""

from .sheet import (
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
from .targets import decide_target

__all__ = [
    "begin_baseline",
    "choose_trial",
    "close_baseline",
    "decide_target",
    "discard_trial",
    "keep_entries",
    "note_trial",
    "record_calibration",
    "record_sound",
    "record_typed",
]
