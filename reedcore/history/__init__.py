"""A client's typed history, and the values derived from it."""

from reedcore.measures import Figure

from .figures import counted_s, figure_of
from .history import (
    LONG_LOOK_BACK,
    LOOK_BACK,
    WEEK,
    History,
    recent_history,
    seconds_before,
    version_week_ago,
)
from .values import (
    DecisionRecord,
    LongestOfDay,
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
    "DecisionRecord",
    "Figure",
    "History",
    "LongestOfDay",
    "Report",
    "Screening",
    "SessionRecord",
    "StopRecord",
    "TrialRecord",
    "Version",
    "counted_s",
    "device_named",
    "figure_of",
    "recent_history",
    "seconds_before",
    "version_week_ago",
]
