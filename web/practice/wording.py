"""What a try came to, in words that the figures bear. Codes in, sentences out."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING, Any

from django.utils.translation import gettext, ngettext

from reedcore.dose.today import Voice
from reedcore.measures import kind_of
from reedcore.safety import Flag, Tier
from reedcore.targets import Aspect
from reedcore.targets.judging import VerdictReason
from reedcore.translation import translated
from web.ui.marked import Words, gettext_noop

if TYPE_CHECKING:
    from web.record.models import PrescribedTask, Trial
    from web.record.prescribed_item import PrescribedRow

#: Labels by spread in cents. For reading only, not the limits of a target.
STEADY_CENTS, FAIRLY_STEADY_CENTS = 15.0, 30.0
#: Smaller errors are not shown to clients.
ON_THE_NOTE_CENTS = 10.0
#: Mention the end if it is this much further from the note than the whole.
END_APART_CENTS = 20.0

WHY = Words(
    {
        VerdictReason.REACHED: gettext_noop("target reached"),
        VerdictReason.SHORT: gettext_noop("short of the target"),
        VerdictReason.ON_NOTE: gettext_noop("on the note"),
        VerdictReason.FLAT: gettext_noop("flat"),
        VerdictReason.SHARP: gettext_noop("sharp"),
        VerdictReason.WANDERED: gettext_noop("on the note for too little of the time"),
        VerdictReason.OCTAVE_LOW: gettext_noop("an octave low"),
        VerdictReason.OCTAVE_HIGH: gettext_noop("an octave high"),
        VerdictReason.NO_VOICE: gettext_noop("not judged: no voice was heard"),
        VerdictReason.NO_PITCH: gettext_noop("not judged: no pitch was heard"),
        VerdictReason.TIMED_BY_HAND: gettext_noop("not judged: timed by hand"),
        VerdictReason.ROOM_TOO_LOUD: gettext_noop("not judged: the room was too loud"),
        VerdictReason.ANOTHER_VOICE: gettext_noop("not judged: another voice was heard"),
        VerdictReason.CLIPPED: gettext_noop(
            "not judged: the sound was too strong for the microphone"
        ),
        VerdictReason.BREATHY: gettext_noop(
            "not judged: too much breath or roughness in the voice"
        ),
        VerdictReason.NO_HISS: gettext_noop("not judged: no hiss was heard"),
        VerdictReason.NARROW_BAND: gettext_noop(
            "not judged: this microphone gives nothing above 4 kHz"
        ),
        VerdictReason.LEVEL_INSIDE: gettext_noop("level in range"),
        VerdictReason.TOO_SOFT: gettext_noop("softer than asked"),
        VerdictReason.TOO_LOUD: gettext_noop("louder than asked"),
        VerdictReason.NO_REFERENCE: gettext_noop(
            "not judged: your comfortable voice is not known on this device yet"
        ),
        VerdictReason.SOUND_CHANGED: gettext_noop("not judged: the browser changed the sound"),
        VerdictReason.EVEN_PITCH: gettext_noop("pitch as even as asked"),
        VerdictReason.WAVERED: gettext_noop("wavering more than asked"),
        VerdictReason.EVEN_LEVEL: gettext_noop("level as even as asked"),
        VerdictReason.UNEVEN_LEVEL: gettext_noop("level less even than asked"),
        VerdictReason.HELD_TO_END: gettext_noop("held to its end"),
        VerdictReason.TRAILED_OFF: gettext_noop("trailing off at the end"),
        VerdictReason.SHAPED: gettext_noop("swelling and fading as asked"),
        VerdictReason.NOT_SHAPED: gettext_noop("without the swell or the fade that was asked"),
        VerdictReason.SPANNED: gettext_noop("as far as asked"),
        VerdictReason.TOO_NARROW: gettext_noop("not as far as asked"),
        VerdictReason.UNBROKEN: gettext_noop("without a break"),
        VerdictReason.BROKEN: gettext_noop("with a break"),
        VerdictReason.NO_JUMP: gettext_noop("without a jump"),
        VerdictReason.JUMPED: gettext_noop("with a jump"),
        VerdictReason.JOINED: gettext_noop("joined"),
        VerdictReason.GAPPED: gettext_noop("with a gap"),
        VerdictReason.RIGHT_WAY: gettext_noop("the way that was asked"),
        VerdictReason.WRONG_WAY: gettext_noop("not the way that was asked"),
        VerdictReason.ENOUGH_PULSES: gettext_noop("as many as asked"),
        VerdictReason.TOO_FEW_PULSES: gettext_noop("fewer than asked"),
        VerdictReason.EVEN_PULSES: gettext_noop("even"),
        VerdictReason.UNEVEN_PULSES: gettext_noop("uneven"),
        VerdictReason.RESTED: gettext_noop("with a long one at the end"),
        VerdictReason.NO_REST: gettext_noop("without the long one at the end"),
        VerdictReason.AIR_FIRST: gettext_noop("air first, then voice"),
        VerdictReason.VOICE_AT_ONCE: gettext_noop("the voice began without the air running first"),
        VerdictReason.NOTHING_SOUNDED: gettext_noop("not judged: the room was too loud"),
        VerdictReason.NO_BEAT: gettext_noop(
            "not judged: this device did not say when the beat was"
        ),
        VerdictReason.ON_BEAT: gettext_noop("on its beat"),
        VerdictReason.EARLY: gettext_noop("before its beat"),
        VerdictReason.LATE: gettext_noop("after its beat"),
    }
)

#: Shown on the client's screen when something is wrong, also offline.
CLIENT_ADVICE = Words(
    {
        Tier.EMERGENCY: gettext_noop(
            "You need help now. Call {emergency_number}. Do not continue."
        ),
        Tier.NO_MORE_VOICING: gettext_noop(
            "Do not use your voice for practice. Call your clinician today. If you cannot reach them, see a doctor today."
        ),
        Tier.END_SESSION: gettext_noop(
            "That is enough for today. Sit down, breathe normally, have some water."
        ),
        Tier.TELL_CLINICIAN: gettext_noop(
            "Thank you for telling us. Your clinician will see it. Call sooner if it gets worse."
        ),
    }
)
#: The quick question before the first sound, in the client's words.
CLIENT_FLAGS = Words(
    {
        Flag.BREATHING: gettext_noop("trouble breathing, or noisy breathing"),
        Flag.CHOKING: gettext_noop("choking"),
        Flag.CHEST_PAIN: gettext_noop("pain in the chest"),
        Flag.FAINTING_NOW: gettext_noop("fainted, or close to it"),
        Flag.BLEEDING: gettext_noop("blood, more than streaks"),
        Flag.STROKE_SIGNS: gettext_noop("a drooping face, weakness, slurred speech"),
        Flag.VOICE_LOST: gettext_noop("my voice went all at once"),
        Flag.NEW_PAIN: gettext_noop("new pain when I use my voice or swallow"),
        Flag.BLOOD_STREAKS: gettext_noop("streaks of blood"),
        Flag.LIGHT_HEADED: gettext_noop("light-headed"),
        Flag.STRAIN: gettext_noop("my throat is scratchy, tight or sore"),
        Flag.HOARSER: gettext_noop("hoarser, or clearly changed, since it was last examined"),
        Flag.SWALLOWING: gettext_noop("trouble swallowing"),
        Flag.NECK_LUMP: gettext_noop("a lump in my neck"),
        Flag.EAR_PAIN: gettext_noop("pain in one ear"),
        Flag.WEIGHT_LOSS: gettext_noop("losing weight without meaning to"),
        Flag.UNKNOWN_REASON: gettext_noop("something was wrong"),
    }
)
VOICES = Words(
    {
        Voice.AS_USUAL: gettext_noop("As usual"),
        Voice.TIRED: gettext_noop("Tired or dry"),
        Voice.HOARSE: gettext_noop("Hoarse"),
        Voice.ILL: gettext_noop("I am ill"),
    }
)
SKIPS = Words(
    {
        "cant": gettext_noop("I can’t do it"),
        "no_prop": gettext_noop("I haven’t got what it needs"),
        "tired": gettext_noop("Too tired"),
        "other": gettext_noop("Another reason"),
    }
)

#: Rows of a table that cannot be read.
UNREAD = Words(
    {
        "day": gettext_noop("Line {line}: “{text}” is not a date. Example: 2026-11-25."),
        "seconds": gettext_noop("Line {line}: “{text}” is not a time from 0.3 to 180 seconds."),
        "effort": gettext_noop("Line {line}: “{text}” is not an effort from 1 to 10."),
    }
)

INSTRUCTIONS = Words(
    {
        "total": gettext_noop(
            "Breathe in, then hold “{sound}” softly and evenly until the air is gone."
        ),
        "steady": gettext_noop(
            "Breathe in, then hold “{sound}” as evenly as you can. Stop while it is still easy."
        ),
    }
)


def instruction(task: PrescribedTask) -> str:
    """Return what to do with a held sound that was prescribed by itself, in one breath."""
    return INSTRUCTIONS[task.counts].format(sound=task.sound)


#: Target figures for the steadiness of a hold.
LIMITS = (Aspect.SPREAD, Aspect.LEVEL_SPREAD, Aspect.END_FALL, Aspect.SHAPE)


def title_of(asked: PrescribedRow, *, note: Any = None) -> str:
    """Return what a task is called on the client's screen."""
    task = asked.task
    if task.measure == task.HOLD:
        name = (
            asked.shipped.name
            if asked.shipped
            else gettext("Hold “{sound}”").format(sound=task.sound)
        )
        if asked.shipped and asked.shipped.family in ("block", "loud"):
            name = gettext("Hold “{sound}”").format(sound=task.sound)
        return gettext("{name} on {note}").format(name=name, note=note) if note else name
    return asked.shipped.name if asked.shipped else task.task_code


def result_sentence(trial: Trial, *, note_name: Any) -> str:
    """Return one honest sentence: how long, how steady, how near the note, and the target."""
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
        told.append(gettext("timed by hand"))
    asked = gettext("; target {asked_s:g} s").format(asked_s=trial.asked_s) if trial.asked_s else ""
    return f"{', '.join(part for part in told if part)}{asked}."


def _unheard(trial: Trial) -> str:
    """Return what was not there, by what was asked for."""
    for part in trial.parts:
        if part["why"] == VerdictReason.NOTHING_SOUNDED:
            return gettext(
                "The room was too loud to hear you in this try, so nothing was measured."
            )
    return translated(kind_of(trial.task.measure).unheard)


COUNTED = Words(
    {
        "reps": gettext_noop("{value:g} times"),
        "minutes": gettext_noop("{value:g} minutes"),
        "breaths": gettext_noop("{value:g} breaths"),
        "count": "{value:g}",
        "lines": gettext_noop("{value:g} lines"),
    }
)


#: Felt-check answers and ends of counted breaths, for the clinician.
FELT = Words(
    {
        "yes": gettext_noop("felt"),
        "not_sure": gettext_noop("not sure whether felt"),
        "no": gettext_noop("not felt"),
    }
)
AFTER_BREATH = Words(
    {
        "left": gettext_noop("air left"),
        "just": gettext_noop("air just used up"),
        "ran_out": gettext_noop("ran out of air early"),
    }
)


def told_words(figures: dict[str, Any]) -> str:
    """Return what the client said was done."""
    told = [words.format(value=figures[name]) for name, words in COUNTED.items() if name in figures]
    if figures.get("ticks"):
        told.append(", ".join(figures["ticks"]))
    return gettext("Done: {value}.").format(value=", ".join(told) or "nothing was ticked")


def _glide(trial: Trial) -> str:
    figures = trial.figures
    told = [
        gettext("{semitones:.0f} semitones in {total_s:.1f} seconds").format(
            semitones=figures["semitones"], total_s=trial.total_s
        )
    ]
    told += [words for words in (_level(trial),) if words]
    told.append(_breaks(len(trial.breaks)) or gettext("without a break"))
    told += [
        WHY[VerdictReason.WRONG_WAY]
        for part in trial.parts
        if part["why"] == VerdictReason.WRONG_WAY
    ]
    if figures.get("circles", 0) > 1:
        told.append(gettext("{circles} times up and down").format(circles=figures["circles"]))
    if figures["jumps"]:
        count = len(figures["jumps"])
        told.append(ngettext("one jump", "{count} jumps", count).format(count=count))
    return f"{', '.join(told)}."


def _pattern(trial: Trial) -> str:
    figures = trial.figures
    if "notes_on_pitch" not in figures:
        return _aired(trial)
    return gettext("{notes_on_pitch} of {notes_asked} notes on pitch.").format(
        notes_on_pitch=figures["notes_on_pitch"], notes_asked=figures["notes_asked"]
    )


def _compound(trial: Trial) -> str:
    figures = trial.figures
    if "gap_s" not in figures:
        return _aired(trial)
    gap = (
        "joined"
        if figures["gap_s"] <= 0.02
        else gettext("a gap of {gap_s:.2f} seconds").format(gap_s=figures["gap_s"])
    )
    return gettext("“s” {s_s:.1f} seconds, “z” {z_s:.1f}, {gap}.").format(
        s_s=figures["s_s"], z_s=figures["z_s"], gap=gap
    )


def _script(trial: Trial) -> str:
    figures = trial.figures
    pauses = figures["pauses"]
    return ngettext(
        "{seconds:.1f} seconds of voice, {count} pause.",
        "{seconds:.1f} seconds of voice, {count} pauses.",
        pauses,
    ).format(seconds=figures["voiced_s"], count=pauses)


def _rhythm(trial: Any) -> Any:
    """Pulses, bursts and air before voice: the count, then what was met or not."""
    figures = trial.figures
    told = (
        [
            gettext("{pulses} of {pulses_asked}").format(
                pulses=figures["pulses"], pulses_asked=figures["pulses_asked"]
            )
        ]
        if "pulses" in figures
        else []
    )
    if figures.get("rest_s"):
        told.append(gettext("then {rest_s:.1f} seconds").format(rest_s=figures["rest_s"]))
    if "air_s" in figures:
        told.append(
            gettext("air for {air_s:.1f} seconds, then voice for {voiced_s:.1f}").format(
                air_s=figures["air_s"], voiced_s=figures["voiced_s"]
            )
        )
    told += [WHY[VerdictReason(part["why"])] for part in trial.parts if part["part"] != Aspect.AIR]
    return f"{', '.join(told)}."


def _by_figures(trial: Trial) -> Callable[..., Any] | None:
    """Return the words for what was listened for, where that is a rhythm, a start or a glide; None
    elsewhere."""
    found = set(trial.figures)
    return next((words for names, words in _BY_FIGURES if names & found), None)


def _started(trial: Trial) -> str:
    """Return a start on its beat: how early or late."""
    late = trial.figures["late_ms"]
    told = [
        gettext("{total_s:.1f} seconds").format(total_s=trial.total_s),
        *(WHY[VerdictReason(part["why"])] for part in trial.parts),
    ]
    if abs(late) >= SOON_MS:
        told.append(
            gettext("{value:.1f} seconds {value_2}").format(
                value=abs(late) / 1000, value_2="late" if late > 0 else "early"
            )
        )
    return f"{', '.join(told)}."


def _aired(trial: Trial) -> str:
    """Air alone, or a voice that no beat is known for."""
    told = [gettext("{total_s:.1f} seconds").format(total_s=trial.total_s)]
    told += [WHY[VerdictReason(part["why"])] for part in trial.parts]
    return f"{', '.join(told)}."


#: Do not give a figure for a start this close to its beat, milliseconds.
SOON_MS = 100
#: Kinds whose result is not their measure's main figure.
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
        return gettext("{steady_s:.1f} steady seconds of {total_s:.1f}").format(
            steady_s=trial.steady_s, total_s=trial.total_s
        )
    return gettext("{total_s:.1f} seconds").format(total_s=trial.total_s)


def _steadiness(spread_cents: float | None) -> str:
    if spread_cents is None:
        return ""
    if spread_cents <= STEADY_CENTS:
        return gettext("steady")
    if spread_cents <= FAIRLY_STEADY_CENTS:
        return gettext("fairly steady")
    return gettext("wavering")


def _pitch(trial: Trial, note_name: str | None) -> str:
    if trial.error_cents is None or note_name is None:
        return ""
    error = trial.error_cents
    judged = {part["part"]: VerdictReason(part["why"]) for part in trial.parts}.get("pitch")
    if judged in (VerdictReason.OCTAVE_LOW, VerdictReason.OCTAVE_HIGH):
        return gettext("{value} of {note_name}").format(value=WHY[judged], note_name=note_name)
    if abs(error) <= ON_THE_NOTE_CENTS:
        return gettext("on {note_name}").format(note_name=note_name)
    # A semitone is 100 cents; beyond three semitones, cents are hard to read.
    if abs(error) > 300:
        return gettext("{value:.0f} semitones {side} of {note_name}").format(
            value=abs(error) / 100, side=_side(error), note_name=note_name
        )
    return gettext("{error:.0f} cents {side} of {note_name}").format(
        error=abs(error), side=_side(error), note_name=note_name
    )


def _end(trial: Trial) -> str:
    if trial.end_error_cents is None or trial.error_cents is None:
        return ""
    if abs(trial.end_error_cents - trial.error_cents) < END_APART_CENTS:
        return ""
    falling = trial.end_error_cents < trial.error_cents
    return gettext("lower at the end") if falling else gettext("higher at the end")


def _level(trial: Trial) -> str:
    judged = {part["part"]: part for part in trial.parts}.get("level")
    if judged is None or judged["verdict"] == trial.Outcome.NOT_JUDGED:
        return ""
    inside = judged["verdict"] == trial.Outcome.MET
    return gettext("level in range") if inside else WHY[VerdictReason(judged["why"])]


def _limits(trial: Trial) -> Iterator[str]:
    """Yield what of the steadiness that was asked for was not kept."""
    for part in trial.parts:
        if part["part"] in LIMITS and part["verdict"] == trial.Outcome.NOT_MET:
            yield WHY[VerdictReason(part["why"])]


def _breaks(count: int) -> str:
    if not count:
        return ""
    return (
        gettext("with one break")
        if count == 1
        else gettext("with {count} breaks").format(count=count)
    )


def _side(cents: float) -> str:
    return "flat" if cents < 0 else "sharp"
