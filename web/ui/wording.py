"""Errors of the core in sentences with advice."""

from reedcore import errors
from reedcore.errors import Refusal
from web.ui.marked import Words, gettext_noop

REFUSALS = Words(
    {
        errors.NotANote.code: gettext_noop(
            "“{text}” is not a note. Type a letter from A to G, ♯ or ♭ if there is "
            "one, and the octave: F3, B♭4."
        ),
        errors.PitchOutOfRange.code: gettext_noop("This note is outside the range C1 to C7."),
        errors.NotARecording.code: gettext_noop(
            "This file is not a readable WAV recording. Save it as uncompressed WAV (PCM) and choose it again."
        ),
        errors.EmptyRecording.code: gettext_noop("This recording is empty. Record it again."),
        errors.DamagedRecording.code: gettext_noop(
            "This recording is damaged {first_bad_s:.1f} seconds in. Record it again."
        ),
        errors.RateOutOfRange.code: gettext_noop(
            "This recording has {rate_hz} samples a second; between "
            "{lowest_hz} and {highest_hz} can be measured. Save it at 44100 or 48000."
        ),
        errors.RecordingTooLong.code: gettext_noop(
            "This recording is {duration_s:.0f} seconds long; up to "
            "{longest_s:.0f} can be measured. Use a shorter recording."
        ),
        errors.NoSteadySound.code: gettext_noop(
            "No steady sound was louder than the room. Play a tone or hold a vowel for some seconds, after a moment of quiet."
        ),
        errors.NotAPracticeFile.code: gettext_noop(
            "This is not a practice file of this version ({where}: {problem}). Export it again."
        ),
        errors.NotATable.code: gettext_noop(
            "This is not a table with a header and up to {most} rows. Save it as CSV and choose it again."
        ),
        errors.NoSuchItem.code: gettext_noop("This task is no longer in the session."),
        errors.NoSuchTask.code: gettext_noop("Task “{task}” is not in the catalogue."),
        errors.NotAnEdit.code: gettext_noop("This edit is not valid ({detail})."),
        errors.ValueOutOfRange.code: gettext_noop(
            "The {what} cannot be {value}. Enter {lowest} to {highest}."
        ),
    }
)


def sentence(refusal: Refusal) -> str:
    """Return the refusal as a sentence for people."""
    return REFUSALS[refusal.code].format(**refusal.facts)
