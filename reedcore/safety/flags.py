"""Red flags by tier: actions at once, the end of voicing, and messages to the clinician."""

from __future__ import annotations

from enum import StrEnum


class Tier(StrEnum):
    """The urgency of a red flag, most urgent first."""

    EMERGENCY = "emergency"
    NO_MORE_VOICING = "no_more_voicing"
    END_SESSION = "end_session"
    TELL_CLINICIAN = "tell_clinician"


class Flag(StrEnum):
    """A red flag that a client can report.

    UNKNOWN_REASON is never asked: a stop arrived, and its reason could not be read."""

    BREATHING = "breathing"
    CHOKING = "choking"
    CHEST_PAIN = "chest_pain"
    FAINTING_NOW = "fainting_now"
    BLEEDING = "bleeding"
    STROKE_SIGNS = "stroke_signs"
    VOICE_LOST = "voice_lost"
    NEW_PAIN = "new_pain"
    BLOOD_STREAKS = "blood_streaks"
    LIGHT_HEADED = "light_headed"
    STRAIN = "strain"
    HOARSER = "hoarser"
    SWALLOWING = "swallowing"
    NECK_LUMP = "neck_lump"
    EAR_PAIN = "ear_pain"
    WEIGHT_LOSS = "weight_loss"
    UNKNOWN_REASON = "unknown_reason"


TIERS: dict[Flag, Tier] = {
    Flag.BREATHING: Tier.EMERGENCY,
    Flag.CHOKING: Tier.EMERGENCY,
    Flag.CHEST_PAIN: Tier.EMERGENCY,
    Flag.FAINTING_NOW: Tier.EMERGENCY,
    Flag.BLEEDING: Tier.EMERGENCY,
    Flag.STROKE_SIGNS: Tier.EMERGENCY,
    # Unknown: it may have been any of these.
    Flag.UNKNOWN_REASON: Tier.EMERGENCY,
    Flag.VOICE_LOST: Tier.NO_MORE_VOICING,
    Flag.NEW_PAIN: Tier.NO_MORE_VOICING,
    Flag.BLOOD_STREAKS: Tier.NO_MORE_VOICING,
    Flag.LIGHT_HEADED: Tier.END_SESSION,
    Flag.STRAIN: Tier.END_SESSION,
    Flag.HOARSER: Tier.TELL_CLINICIAN,
    Flag.SWALLOWING: Tier.TELL_CLINICIAN,
    Flag.NECK_LUMP: Tier.TELL_CLINICIAN,
    Flag.EAR_PAIN: Tier.TELL_CLINICIAN,
    Flag.WEIGHT_LOSS: Tier.TELL_CLINICIAN,
}

#: Flags that a client or clinician can be asked about.
ASKABLE: tuple[Flag, ...] = tuple(flag for flag in Flag if flag is not Flag.UNKNOWN_REASON)
#: Asked in full at screening: all except those that only a session can cause.
SCREENED: tuple[Flag, ...] = tuple(
    flag for flag, tier in TIERS.items() if flag in ASKABLE and tier is not Tier.END_SESSION
)
