"""What the core's refusals mean, in sentences that say what to do."""

from reedcore import errors
from reedcore.errors import Refusal

REFUSALS = {
    errors.NotANote.code: "“{text}” is not a note. Type a letter from A to G, ♯ or ♭ if there is "
    "one, and the octave: F3, B♭4.",
    errors.PitchOutOfRange.code: "That note lies outside the keyboard from C1 to C7.",
    errors.NotARecording.code: "This file is not a WAV recording that can be read. Save it as WAV "
    "(PCM, not compressed) and choose it again.",
    errors.EmptyRecording.code: "There is no sound in this recording: it has no length. "
    "Record it again.",
    errors.DamagedRecording.code: "This recording is damaged {first_bad_s:.1f} seconds in. "
    "Record it again.",
    errors.RateOutOfRange.code: "This recording has {rate_hz} samples a second; between "
    "{lowest_hz} and {highest_hz} can be measured. Save it at 44100 or 48000.",
    errors.RecordingTooLong.code: "This recording is {duration_s:.0f} seconds long; up to "
    "{longest_s:.0f} can be measured. Cut out the try itself.",
    errors.NothingSteady.code: "No steady sound stood out of the room. Let a tone or a vowel sound "
    "for some seconds, with a moment of quiet before it.",
    errors.NotAPracticeFile.code: "That is not a practice file of this version ({where}: "
    "{problem}). Export it again.",
    errors.NotATable.code: "This is not a table with a line of names and up to {most} lines under "
    "it. Save it as CSV and choose it again.",
    errors.NoSuchItem.code: "That task is not in the session any more.",
    errors.NoSuchTask.code: "There is no task “{task}” in this catalogue.",
    errors.NotAnEdit.code: "That is no edit of a programme ({detail}).",
    errors.ValueOutOfRange.code: "The {what} cannot be {value}: it must lie between {lowest} and "
    "{highest}.",
}


def sentence(refusal: Refusal) -> str:
    """The refusal as a sentence for people."""
    return REFUSALS[refusal.code].format(**refusal.facts)
