"""What adds up over tries: range, load, trends and real change."""

from .course import BASELINE_DAYS, Better, Course, Measured, course_of, session_points
from .monitoring import Decline, decline_of
from .range_profile import RangeProfile, range_profile_of
from .trend import LEAST_DAYS, Baseline, Change, Point, Trend, baseline_of, change_of, trend
from .voice_load import VoiceLoad, voice_load_of

__all__ = [
    "BASELINE_DAYS",
    "LEAST_DAYS",
    "Baseline",
    "Better",
    "Change",
    "Course",
    "Decline",
    "Measured",
    "Point",
    "RangeProfile",
    "Trend",
    "VoiceLoad",
    "baseline_of",
    "change_of",
    "course_of",
    "decline_of",
    "range_profile_of",
    "session_points",
    "trend",
    "voice_load_of",
]
