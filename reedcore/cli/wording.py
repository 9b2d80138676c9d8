"""Messages of the command line: one clear line for each error."""

from __future__ import annotations

from reedcore import errors
from reedcore.errors import Refusal

LINES = {
    errors.NotATable.code: "not a table of at most {most} lines",
    errors.NotAPracticeFile.code: "not a practice file of this version ({where}: {problem}); "
    "export it again",
    errors.NotARecording.code: "not a WAV recording that can be read ({detail})",
    errors.EmptyRecording.code: "holds no sound",
    errors.DamagedRecording.code: "damaged {first_bad_s:.2f} s in: a sample is not a number",
    errors.RateOutOfRange.code: "has {rate_hz} samples a second; {lowest_hz}–{highest_hz} can be "
    "measured",
    errors.RecordingTooLong.code: "is {duration_s:.0f} s long; up to {longest_s:.0f} s can be "
    "measured",
    errors.NotANote.code: "“{text}” is not a note; say F4 or Bb3",
    errors.PitchOutOfRange.code: "{what} {value} lies outside {lowest}–{highest}",
    errors.NoSteadySound.code: "no steady sound stands {needed_db:.0f} dB out of the room",
    errors.NoSuchItem.code: "there is no item “{item}” in the programme",
    errors.NoSuchTask.code: "there is no task “{task}” in the catalogue",
    errors.NotAnEdit.code: "no edit of a programme ({detail})",
    errors.ValueOutOfRange.code: "{what} {value} lies outside {lowest}–{highest}",
}


def line(refusal: Refusal) -> str:
    """Return the refusal in one line."""
    return LINES[refusal.code].format(**refusal.facts)
