"""What stands against a recording, in sentences that say what to do."""

from __future__ import annotations

from typing import Any

from reedcore.acoustics import QualityReason

REASONS = {
    QualityReason.SILENT: "Nothing reached the microphone. Check that it is on, not covered, and "
    "the one that was chosen.",
    QualityReason.NO_VOICE: "Sound was heard, but no held voice of a second or more. Hold one "
    "sound until you are done.",
    QualityReason.CLIPPED: "The sound was too strong for the microphone, so its level was not "
    "judged. Move a little further away.",
    QualityReason.ROOM_NOT_HEARD: "The room was not heard before or after the voice, so how quiet "
    "it was is not known. Leave half a second before you start.",
    QualityReason.ROOM_TOO_LOUD_FOR_LEVEL: "The room was too loud to judge level and steadiness. "
    "Move closer to the microphone, or close the window.",
    QualityReason.ROOM_TOO_LOUD_FOR_SPREAD: "The room was too loud to judge steadiness. Move "
    "closer to the microphone, or close the window.",
    QualityReason.BREATH_TOO_LOUD_FOR_SPREAD: "The voice is so breathy, rough or chopped that "
    "how steady its pitch was cannot be judged.",
    QualityReason.NARROW_BAND: "The recording holds nothing above 4 kHz, as over a telephone line.",
    QualityReason.PROCESSED: "The browser changed the sound on its way (echo, noise or gain), so "
    "level was not judged.",
    QualityReason.PITCH_LOOKED_AT_AGAIN: "There is much breath in the voice, so its pitch was "
    "looked at again over longer stretches and may differ from what was seen while it sounded.",
}


#: Said with the figure, where there is one.
TOO_LOUD = (QualityReason.ROOM_TOO_LOUD_FOR_LEVEL, QualityReason.ROOM_TOO_LOUD_FOR_SPREAD)


def reasons(codes: list[Any], *, snr_db: Any = None, of_a_hold: bool = True) -> list[Any]:
    """The sentences for a recording's quality reasons; only a hold is told to hold one sound."""
    told = []
    for code in map(QualityReason, codes):
        if code is QualityReason.NO_VOICE and not of_a_hold:
            continue
        words = REASONS[code]
        if code in TOO_LOUD and snr_db is not None:
            words = f"{words} The voice stood only {snr_db:.0f} dB above it."
        told.append(words)
    return told
