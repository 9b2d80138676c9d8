"""One typed history of a client, and what is worked out from it: each question in one place."""

from reedcore.measures import Figure

from .figures import counted_s, figure_of
from .history import (
    LONG_LOOK_BACK,
    LOOK_BACK,
    WEEK,
    History,
    lately,
    seconds_before,
    version_week_ago,
)
from .values import (
    DayHeld,
    Decision,
    Report,
    Screening,
    Session,
    Stop,
    Trial,
    Version,
    device_named,
)

__all__ = [
    "LONG_LOOK_BACK",
    "LOOK_BACK",
    "WEEK",
    "DayHeld",
    "Decision",
    "Figure",
    "History",
    "Report",
    "Screening",
    "Session",
    "Stop",
    "Trial",
    "Version",
    "counted_s",
    "device_named",
    "figure_of",
    "lately",
    "seconds_before",
    "version_week_ago",
]
