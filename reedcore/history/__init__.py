"""A client's typed history, and the values derived from it."""

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
    DecisionRecord,
    Report,
    Screening,
    SessionRecord,
    StopRecord,
    TrialRecord,
    Version,
    device_named,
)

__all__ = [
    "LONG_LOOK_BACK",
    "LOOK_BACK",
    "WEEK",
    "DayHeld",
    "DecisionRecord",
    "Figure",
    "History",
    "Report",
    "Screening",
    "SessionRecord",
    "StopRecord",
    "TrialRecord",
    "Version",
    "counted_s",
    "device_named",
    "figure_of",
    "lately",
    "seconds_before",
    "version_week_ago",
]
