"""Values over many trials: range, load, trends and real change."""

from .course import BetterDirection, Course, MeasuredValue, baseline_days, course_of, session_points
from .day_to_day import autocorrelation, variance_inflation
from .monitoring import Decline, DeclineEvidence, decline_of, falling, first_confirmed
from .range_profile import RangeProfile, range_profile_of
from .trend import (
    LEAST_DAYS,
    MeanChange,
    Point,
    Trend,
    TrendBaseline,
    baseline_of,
    change_of,
    trend,
)
from .voice_load import VoiceLoad, voice_load_of

__all__ = [
    "LEAST_DAYS",
    "BetterDirection",
    "Course",
    "Decline",
    "DeclineEvidence",
    "MeanChange",
    "MeasuredValue",
    "Point",
    "RangeProfile",
    "Trend",
    "TrendBaseline",
    "VoiceLoad",
    "autocorrelation",
    "baseline_days",
    "baseline_of",
    "change_of",
    "course_of",
    "decline_of",
    "falling",
    "first_confirmed",
    "range_profile_of",
    "session_points",
    "trend",
    "variance_inflation",
    "voice_load_of",
]
