"""What a try came to, in words that the figures bear. Codes in, sentences out."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING, Any

from reedcore.dose.today import Voice
from reedcore.measures import kind_of
from reedcore.safety import Flag, Tier
from reedcore.targets import Aspect
from reedcore.targets.judging import VerdictReason

if TYPE_CHECKING:
    from web.record.models import PrescribedTask, Trial
    from web.record.prescribed_item import PrescribedRow

#: Spread in cents up to which a hold is called so. Words for reading, not limits of a target.
STEADY_CENTS, FAIRLY_STEADY_CENTS = 15.0, 30.0
#: An error smaller than this is not worth a figure to a client.
ON_THE_NOTE_CENTS = 10.0
#: The end is mentioned when it lies this much further from the note than the whole.
END_APART_CENTS = 20.0

WHY = {
    VerdictReason.REACHED: "target reached",
    VerdictReason.SHORT: "short of the target",
    VerdictReason.ON_NOTE: "on the note",
    VerdictReason.FLAT: "flat",
    VerdictReason.SHARP: "sharp",
    VerdictReason.WANDERED: "on the note for too little of the time",
    VerdictReason.OCTAVE_LOW: "an octave low",
    VerdictReason.OCTAVE_HIGH: "an octave high",
    VerdictReason.NO_VOICE: "not judged: no voice was heard",
    VerdictReason.NO_PITCH: "not judged: no pitch was heard",
    VerdictReason.TIMED_BY_HAND: "not judged: timed by hand",
    VerdictReason.ROOM_TOO_LOUD: "not judged: the room was too loud",
    VerdictReason.ANOTHER_VOICE: "not judged: another voice was heard",
    VerdictReason.CLIPPED: "not judged: the sound was too strong for the microphone",
    VerdictReason.BREATHY: "not judged: too much breath or roughness in the voice",
    VerdictReason.NO_HISS: "not judged: no hiss was heard",
    VerdictReason.NARROW_BAND: "not judged: this microphone gives nothing above 4 kHz",
    VerdictReason.LEVEL_INSIDE: "level in range",
    VerdictReason.TOO_SOFT: "softer than asked",
    VerdictReason.TOO_LOUD: "louder than asked",
    VerdictReason.NO_REFERENCE: "not judged: your comfortable voice is not known on this device yet",
    VerdictReason.SOUND_CHANGED: "not judged: the browser changed the sound",
    VerdictReason.EVEN_PITCH: "pitch as even as asked",
    VerdictReason.WAVERED: "wavering more than asked",
    VerdictReason.EVEN_LEVEL: "level as even as asked",
    VerdictReason.UNEVEN_LEVEL: "level less even than asked",
    VerdictReason.HELD_TO_END: "held to its end",
    VerdictReason.TRAILED_OFF: "trailing off at the end",
    VerdictReason.SHAPED: "swelling and fading as asked",
    VerdictReason.NOT_SHAPED: "without the swell or the fade that was asked",
    VerdictReason.SPANNED: "as far as asked",
    VerdictReason.TOO_NARROW: "not as far as asked",
    VerdictReason.UNBROKEN: "without a break",
    VerdictReason.BROKEN: "with a break",
    VerdictReason.NO_JUMP: "without a jump",
    VerdictReason.JUMPED: "with a jump",
    VerdictReason.JOINED: "joined",
    VerdictReason.GAPPED: "with a gap",
    VerdictReason.RIGHT_WAY: "the way that was asked",
    VerdictReason.WRONG_WAY: "not the way that was asked",
    VerdictReason.ENOUGH_PULSES: "as many as asked",
    VerdictReason.TOO_FEW_PULSES: "fewer than asked",
    VerdictReason.EVEN_PULSES: "even",
    VerdictReason.UNEVEN_PULSES: "uneven",
    VerdictReason.RESTED: "with a long one at the end",
    VerdictReason.NO_REST: "without the long one at the end",
    VerdictReason.AIR_FIRST: "air first, then voice",
    VerdictReason.VOICE_AT_ONCE: "the voice began without the air running first",
    VerdictReason.NOTHING_SOUNDED: "not judged: the room was too loud",
    VerdictReason.NO_BEAT: "not judged: this device did not say when the beat was",
    VerdictReason.ON_BEAT: "on its beat",
    VerdictReason.EARLY: "before its beat",
    VerdictReason.LATE: "after its beat",
}

#: Said on the client's screen when something is wrong, offline too.
CLIENT_ADVICE = {
    Tier.EMERGENCY: "You need help now. Call {emergency_number}. Do not continue.",
    Tier.NO_MORE_VOICING: "Do not use your voice for practice. Call your clinician today. If you cannot reach them, see a doctor today.",
    Tier.END_SESSION: "That is enough for today. Sit down, breathe normally, have some water.",
    Tier.TELL_CLINICIAN: "Thank you for telling us. Your clinician will see it. Call sooner if it gets worse.",
}
#: The one quick question before the first sound: what is wrong, in the client's words.
CLIENT_FLAGS = {
    Flag.BREATHING: "trouble breathing, or noisy breathing",
    Flag.CHOKING: "choking",
    Flag.CHEST_PAIN: "pain in the chest",
    Flag.FAINTING_NOW: "fainted, or close to it",
    Flag.BLEEDING: "blood, more than streaks",
    Flag.STROKE_SIGNS: "a drooping face, weakness, slurred speech",
    Flag.VOICE_LOST: "my voice went all at once",
    Flag.NEW_PAIN: "new pain when I use my voice or swallow",
    Flag.BLOOD_STREAKS: "streaks of blood",
    Flag.LIGHT_HEADED: "light-headed",
    Flag.STRAIN: "my throat is scratchy, tight or sore",
    Flag.HOARSER: "hoarser, or clearly changed, since it was last examined",
    Flag.SWALLOWING: "trouble swallowing",
    Flag.NECK_LUMP: "a lump in my neck",
    Flag.EAR_PAIN: "pain in one ear",
    Flag.WEIGHT_LOSS: "losing weight without meaning to",
    Flag.UNKNOWN_REASON: "something was wrong",
}
VOICES = {
    Voice.AS_USUAL: "As usual",
    Voice.TIRED: "Tired or dry",
    Voice.HOARSE: "Hoarse",
    Voice.ILL: "I am ill",
}
SKIPS = {
    "cant": "I can’t do it",
    "no_prop": "I haven’t got what it needs",
    "tired": "Too tired",
    "other": "Another reason",
}

#: Rows of a table that cannot be read.
UNREAD = {
    "day": "Line {line}: “{text}” is not a date. Example: 2026-11-25.",
    "seconds": "Line {line}: “{text}” is not a time from 0.3 to 180 seconds.",
    "effort": "Line {line}: “{text}” is not an effort from 1 to 10.",
}

INSTRUCTIONS = {
    "total": "Breathe in, then hold “{sound}” softly and evenly until the air is gone.",
    "steady": "Breathe in, then hold “{sound}” as evenly as you can. Stop while it is still easy.",
}


def instruction(task: PrescribedTask) -> str:
    """What to do with a held sound that was prescribed by itself, in one breath."""
    return INSTRUCTIONS[task.counts].format(sound=task.sound)


#: The parts of a target that say how even a hold is to be.
LIMITS = (Aspect.SPREAD, Aspect.LEVEL_SPREAD, Aspect.END_FALL, Aspect.SHAPE)


def title_of(asked: PrescribedRow, *, note: Any = None) -> str:
    """What a task is called on the client's screen."""
    task = asked.task
    if task.measure == task.HOLD:
        name = asked.shipped.name if asked.shipped else f"Hold “{task.sound}”"
        if asked.shipped and asked.shipped.family in ("block", "loud"):
            name = f"Hold “{task.sound}”"
        return f"{name} on {note}" if note else name
    return asked.shipped.name if asked.shipped else task.task_code


def result_sentence(trial: Trial, *, note_name: Any) -> str:
    """One honest sentence: how long, how steady, how near the note, and the target."""
    if trial.source == trial.Source.TOLD:
        return told_words(trial.figures)
    if trial.total_s is None:
        return _unheard(trial)
    other = _by_figures(trial) or _OTHERS.get(trial.task.measure)
    if other and trial.figures:
        return other(trial)
    told = [_length(trial), _steadiness(trial.spread_cents), _pitch(trial, note_name)]
    told += [_end(trial), _level(trial), *_limits(trial), _breaks(len(trial.breaks))]
    if trial.source in (trial.Source.STOPWATCH, trial.Source.PAPER):
        told.append("timed by hand")
    asked = f"; target {trial.asked_s:g} s" if trial.asked_s else ""
    return f"{', '.join(part for part in told if part)}{asked}."


def _unheard(trial: Trial) -> str:
    """What was not there, by what was asked for."""
    for part in trial.parts:
        if part["why"] == VerdictReason.NOTHING_SOUNDED:
            return "The room was too loud to hear you in this try, so nothing was measured."
    return kind_of(trial.task.measure).unheard


COUNTED = {
    "reps": "{value:g} times",
    "minutes": "{value:g} minutes",
    "breaths": "{value:g} breaths",
    "count": "{value:g}",
    "lines": "{value:g} lines",
}


#: What was felt, and how a counted breath ended, as the clinician reads it.
FELT = {"yes": "felt", "not_sure": "not sure whether felt", "no": "not felt"}
AFTER_BREATH = {"left": "air left", "just": "air just used up", "ran_out": "ran out of air early"}


def told_words(figures: dict[str, Any]) -> str:
    """What the client said was done."""
    told = [words.format(value=figures[name]) for name, words in COUNTED.items() if name in figures]
    if figures.get("ticks"):
        told.append(", ".join(figures["ticks"]))
    return f"Done: {', '.join(told) or 'nothing was ticked'}."


def _glide(trial: Trial) -> str:
    figures = trial.figures
    told = [f"{figures['semitones']:.0f} semitones in {trial.total_s:.1f} seconds"]
    told += [words for words in (_level(trial),) if words]
    told.append(_breaks(len(trial.breaks)) or "without a break")
    told += [
        WHY[VerdictReason.WRONG_WAY]
        for part in trial.parts
        if part["why"] == VerdictReason.WRONG_WAY
    ]
    if figures.get("circles", 0) > 1:
        told.append(f"{figures['circles']} times up and down")
    if figures["jumps"]:
        count = len(figures["jumps"])
        told.append("one jump" if count == 1 else f"{count} jumps")
    return f"{', '.join(told)}."


def _pattern(trial: Trial) -> str:
    figures = trial.figures
    if "notes_on_pitch" not in figures:
        return _aired(trial)
    return f"{figures['notes_on_pitch']} of {figures['notes_asked']} notes on pitch."


def _compound(trial: Trial) -> str:
    figures = trial.figures
    if "gap_s" not in figures:
        return _aired(trial)
    gap = "joined" if figures["gap_s"] <= 0.02 else f"a gap of {figures['gap_s']:.2f} seconds"
    return f"“s” {figures['s_s']:.1f} seconds, “z” {figures['z_s']:.1f}, {gap}."


def _script(trial: Trial) -> str:
    figures = trial.figures
    pauses = figures["pauses"]
    return f"{figures['voiced_s']:.1f} seconds of voice, {pauses} pause{'s' * (pauses != 1)}."


def _rhythm(trial: Any) -> Any:
    """Pulses, bursts and air before voice: the count, then what was met or not."""
    figures = trial.figures
    told = [f"{figures['pulses']} of {figures['pulses_asked']}"] if "pulses" in figures else []
    if figures.get("rest_s"):
        told.append(f"then {figures['rest_s']:.1f} seconds")
    if "air_s" in figures:
        told.append(
            f"air for {figures['air_s']:.1f} seconds, then voice for {figures['voiced_s']:.1f}"
        )
    told += [WHY[VerdictReason(part["why"])] for part in trial.parts if part["part"] != Aspect.AIR]
    return f"{', '.join(told)}."


def _by_figures(trial: Trial) -> Callable[..., Any] | None:
    """The words for what was listened for, where that is a rhythm, a start or a glide; None
    elsewhere."""
    found = set(trial.figures)
    return next((words for names, words in _BY_FIGURES if names & found), None)


def _started(trial: Trial) -> str:
    """A start on its beat: how early or late."""
    late = trial.figures["late_ms"]
    told = [
        f"{trial.total_s:.1f} seconds",
        *(WHY[VerdictReason(part["why"])] for part in trial.parts),
    ]
    if abs(late) >= SOON_MS:
        told.append(f"{abs(late) / 1000:.1f} seconds {'late' if late > 0 else 'early'}")
    return f"{', '.join(told)}."


def _aired(trial: Trial) -> str:
    """Air alone, or a voice that no beat is known for."""
    told = [f"{trial.total_s:.1f} seconds"]
    told += [WHY[VerdictReason(part["why"])] for part in trial.parts]
    return f"{', '.join(told)}."


#: A start so near its beat is not told in figures, milliseconds.
SOON_MS = 100
#: What a try is told by, where its figures are not those of its measure.
_BY_FIGURES = (
    ({"pulses", "air_s"}, _rhythm),
    ({"late_ms"}, _started),
    ({"semitones"}, _glide),
)


_OTHERS = {
    "glide": _glide,
    "pattern": _pattern,
    "compound": _compound,
    "script": _script,
}


def _length(trial: Trial) -> str:
    if trial.task.counts == trial.task.Counts.STEADY and trial.steady_s is not None:
        return f"{trial.steady_s:.1f} steady seconds of {trial.total_s:.1f}"
    return f"{trial.total_s:.1f} seconds"


def _steadiness(spread_cents: float | None) -> str:
    if spread_cents is None:
        return ""
    if spread_cents <= STEADY_CENTS:
        return "steady"
    return "fairly steady" if spread_cents <= FAIRLY_STEADY_CENTS else "wavering"


def _pitch(trial: Trial, note_name: str | None) -> str:
    if trial.error_cents is None or note_name is None:
        return ""
    error = trial.error_cents
    judged = {part["part"]: VerdictReason(part["why"]) for part in trial.parts}.get("pitch")
    if judged in (VerdictReason.OCTAVE_LOW, VerdictReason.OCTAVE_HIGH):
        return f"{WHY[judged]} of {note_name}"
    if abs(error) <= ON_THE_NOTE_CENTS:
        return f"on {note_name}"
    # a semitone is 100 cents: beyond three of them cents say little to a reader
    if abs(error) > 300:
        return f"{abs(error) / 100:.0f} semitones {_side(error)} of {note_name}"
    return f"{abs(error):.0f} cents {_side(error)} of {note_name}"


def _end(trial: Trial) -> str:
    if trial.end_error_cents is None or trial.error_cents is None:
        return ""
    if abs(trial.end_error_cents - trial.error_cents) < END_APART_CENTS:
        return ""
    falling = trial.end_error_cents < trial.error_cents
    return "lower at the end" if falling else "higher at the end"


def _level(trial: Trial) -> str:
    judged = {part["part"]: part for part in trial.parts}.get("level")
    if judged is None or judged["verdict"] == trial.Outcome.NOT_JUDGED:
        return ""
    inside = judged["verdict"] == trial.Outcome.MET
    return "level in range" if inside else WHY[VerdictReason(judged["why"])]


def _limits(trial: Trial) -> Iterator[str]:
    """What of the steadiness that was asked for was not kept."""
    for part in trial.parts:
        if part["part"] in LIMITS and part["verdict"] == trial.Outcome.NOT_MET:
            yield WHY[VerdictReason(part["why"])]


def _breaks(count: int) -> str:
    if not count:
        return ""
    return "with one break" if count == 1 else f"with {count} breaks"


def _side(cents: float) -> str:
    return "flat" if cents < 0 else "sharp"
