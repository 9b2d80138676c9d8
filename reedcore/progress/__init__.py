"""What adds up over tries: range and load."""

from .range_profile import RangeProfile, range_profile_of
from .voice_load import VoiceLoad, voice_load_of

__all__ = ["RangeProfile", "VoiceLoad", "range_profile_of", "voice_load_of"]
