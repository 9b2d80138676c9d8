"""What adds up over tries: range, load, trends and real change."""

from .course import BASELINE_SESSIONS, Better, Course, Measured, course_of, session_points
from .range_profile import RangeProfile, range_profile_of
from .trend import ChangeLimit, Point, Trend, change_limit, trend
from .voice_load import VoiceLoad, voice_load_of

__all__ = [
    "BASELINE_SESSIONS",
    "Better",
    "ChangeLimit",
    "Course",
    "Measured",
    "Point",
    "RangeProfile",
    "Trend",
    "VoiceLoad",
    "change_limit",
    "course_of",
    "range_profile_of",
    "session_points",
    "trend",
    "voice_load_of",
]
