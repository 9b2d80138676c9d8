"""What a try came to, in words that the figures bear. Codes in, sentences out."""

from reedcore.targets.judging import Why

#: Spread in cents up to which a hold is called so. Words for reading, not limits of a target.
STEADY_CENTS, FAIRLY_STEADY_CENTS = 15.0, 30.0
#: An error smaller than this is not worth a figure to a client.
ON_THE_NOTE_CENTS = 10.0
#: The end is mentioned when it lies this much further from the note than the whole.
END_APART_CENTS = 20.0

WHY = {
    Why.REACHED: "target reached",
    Why.SHORT: "short of the target",
    Why.ON_NOTE: "on the note",
    Why.FLAT: "flat",
    Why.SHARP: "sharp",
    Why.WANDERED: "on the note for too little of the time",
    Why.OCTAVE_LOW: "an octave low",
    Why.OCTAVE_HIGH: "an octave high",
    Why.NO_VOICE: "not judged: no voice was heard",
    Why.NO_PITCH: "not judged: no pitch was heard",
    Why.TIMED_BY_HAND: "not judged: timed by hand",
    Why.ROOM_TOO_LOUD: "not judged: the room was too loud",
}

INSTRUCTIONS = {
    "total": "Breathe in, then hold “{sound}” softly and evenly until the air is gone.",
    "steady": "Breathe in, then hold “{sound}” as evenly as you can. Stop while it is still easy.",
}


def instruction(task):
    """What to do, in one breath."""
    return INSTRUCTIONS[task.counts].format(sound=task.sound)


def result_sentence(trial, *, note_name):
    """One honest sentence: how long, how steady, how near the note, and the target."""
    if trial.total_s is None:
        return "No held voice was heard in this try, so nothing was measured."
    told = [_length(trial), _steadiness(trial.spread_cents), _pitch(trial, note_name)]
    told += [_end(trial), _breaks(len(trial.breaks))]
    if trial.source == trial.Source.STOPWATCH:
        told.append("timed by hand")
    return f"{', '.join(part for part in told if part)}; target {trial.task.target_s:g}."


def _length(trial):
    if trial.task.counts == trial.task.Counts.STEADY and trial.steady_s is not None:
        return f"{trial.steady_s:.1f} steady seconds of {trial.total_s:.1f}"
    return f"{trial.total_s:.1f} seconds"


def _steadiness(spread_cents):
    if spread_cents is None:
        return ""
    if spread_cents <= STEADY_CENTS:
        return "steady"
    return "fairly steady" if spread_cents <= FAIRLY_STEADY_CENTS else "wavering"


def _pitch(trial, note_name):
    if trial.error_cents is None or note_name is None:
        return ""
    error = trial.error_cents
    judged = {part["part"]: Why(part["why"]) for part in trial.parts}.get("pitch")
    if judged in (Why.OCTAVE_LOW, Why.OCTAVE_HIGH):
        return f"{WHY[judged]} of {note_name}"
    if abs(error) <= ON_THE_NOTE_CENTS:
        return f"on {note_name}"
    # a semitone is 100 cents: beyond three of them cents say little to a reader
    if abs(error) > 300:
        return f"{abs(error) / 100:.0f} semitones {_side(error)} of {note_name}"
    return f"{abs(error):.0f} cents {_side(error)} of {note_name}"


def _end(trial):
    if trial.end_error_cents is None or trial.error_cents is None:
        return ""
    if abs(trial.end_error_cents - trial.error_cents) < END_APART_CENTS:
        return ""
    falling = trial.end_error_cents < trial.error_cents
    return "lower at the end" if falling else "higher at the end"


def _breaks(count):
    if not count:
        return ""
    return "with one break" if count == 1 else f"with {count} breaks"


def _side(cents):
    return "flat" if cents < 0 else "sharp"
