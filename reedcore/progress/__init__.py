"""What adds up over tries: range, load, trends and real change."""

from .range_profile import RangeProfile, range_profile_of
from .trend import ChangeLimit, Point, Trend, change_limit, trend
from .voice_load import VoiceLoad, voice_load_of

__all__ = [
    "ChangeLimit",
    "Point",
    "RangeProfile",
    "Trend",
    "VoiceLoad",
    "change_limit",
    "range_profile_of",
    "trend",
    "voice_load_of",
]
