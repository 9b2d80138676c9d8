"""Problems of a recording in sentences with advice."""

from __future__ import annotations

from typing import Any

from django.utils.translation import gettext

from reedcore.acoustics import QualityReason
from web.ui.marked import Words, gettext_noop

REASONS = Words(
    {
        QualityReason.SILENT: gettext_noop(
            "The microphone picked up nothing. Check that it is on, uncovered and selected."
        ),
        QualityReason.NO_VOICE: gettext_noop(
            "There was sound, but no voice held for a second. Hold one sound until you are done."
        ),
        QualityReason.CLIPPED: gettext_noop(
            "The sound was too strong for the microphone, so its level was not "
            "judged. Move a little further away."
        ),
        QualityReason.ROOM_NOT_HEARD: gettext_noop(
            "There was no pause before or after the voice, so room noise is unknown. Wait half a second before you start."
        ),
        QualityReason.ROOM_TOO_LOUD_FOR_LEVEL: gettext_noop(
            "The room was too loud to judge level and steadiness. "
            "Move closer to the microphone, or close the window."
        ),
        QualityReason.ROOM_TOO_LOUD_FOR_SPEECH: gettext_noop(
            "The room was too loud to hear the speech, so nothing was judged. "
            "Move closer to the microphone, or close the window."
        ),
        QualityReason.ANOTHER_VOICE: gettext_noop(
            "Another voice was heard (a person, television or radio), so nothing was judged. "
            "Switch it off or find a quieter room, then try again."
        ),
        QualityReason.PAUSES_NOT_HEARD: gettext_noop(
            "Another voice was heard in the pauses, so pauses and breaths were not counted."
        ),
        QualityReason.ROOM_TOO_LOUD_FOR_SPREAD: gettext_noop(
            "The room was too loud to judge steadiness. Move "
            "closer to the microphone, or close the window."
        ),
        QualityReason.BREATH_TOO_LOUD_FOR_SPREAD: gettext_noop(
            "The voice was too breathy, rough or broken to judge steadiness."
        ),
        QualityReason.LEVEL_STEPPED: gettext_noop(
            "The level dropped at once and stayed there, as noise suppression does, so level was not judged. "
            "Switch noise suppression off in the device’s sound settings."
        ),
        QualityReason.PITCH_UNSURE: gettext_noop(
            "The pitch was too uneven to be followed, so it was not judged. Another sound may have been heard with the voice."
        ),
        QualityReason.CREAKY: gettext_noop(
            "The voice was creaky throughout, so it has no pitch to judge."
        ),
        QualityReason.NARROW_BAND: gettext_noop(
            "The recording has nothing above 4 kHz, like a phone call."
        ),
        QualityReason.PROCESSED: gettext_noop(
            "The browser changed the sound (echo, noise or gain control), so level was not judged."
        ),
        QualityReason.PITCH_LOOKED_AT_AGAIN: gettext_noop(
            "The voice was breathy, so pitch was measured again over longer windows. It may differ from the live picture."
        ),
    }
)


#: Reasons with a figure.
TOO_LOUD = (QualityReason.ROOM_TOO_LOUD_FOR_LEVEL, QualityReason.ROOM_TOO_LOUD_FOR_SPREAD)


def reasons(codes: list[Any], *, snr_db: Any = None, is_hold: bool = True) -> list[Any]:
    """Return the sentences for a recording's quality reasons; the advice to hold one sound is only
    for held tasks."""
    texts = []
    for code in map(QualityReason, codes):
        if code is QualityReason.NO_VOICE and not is_hold:
            continue
        words = REASONS[code]
        if code in TOO_LOUD and snr_db is not None:
            words = gettext(
                "{words} The voice was only {snr_db:.0f} dB louder than the room."
            ).format(words=words, snr_db=snr_db)
        texts.append(words)
    return texts
