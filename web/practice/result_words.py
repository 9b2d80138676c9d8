"""Texts about a trial for the client, by its verdict and figures."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING, Any

from django.utils.translation import gettext, ngettext

from reedcore.measures import kind_of
from reedcore.targets import Aspect
from reedcore.targets.judging import VerdictReason
from reedcore.translation import translate
from web.catalogue.wording import number_with_unit
from web.ui.marked import Words, gettext_noop

from .wording import WHY

if TYPE_CHECKING:
    from web.record.models import Trial


#: Labels by spread in cents. For reading only, not the limits of a target.
STEADY_CENTS, FAIRLY_STEADY_CENTS = 15.0, 30.0
#: Smaller errors are not shown to clients.
ON_THE_NOTE_CENTS = 10.0
#: Mention the end if it is this much further from the note than the whole.
END_APART_CENTS = 20.0
#: Target figures for the steadiness of a hold.
LIMITS = (Aspect.SPREAD, Aspect.LEVEL_SPREAD, Aspect.END_FALL, Aspect.SHAPE)


def result_sentence(trial: Trial, *, note_name: Any) -> str:
    """Return one honest sentence: how long, how steady, how near the note, and the target."""
    if trial.source == trial.Source.TOLD:
        return reported_words(trial.figures)
    if trial.total_s is None:
        return _missing_sound_words(trial)
    other = _words_for_figures(trial) or _OTHERS.get(trial.task.measure)
    if other and trial.figures:
        return other(trial)
    phrases = [_length(trial), _steadiness(trial), _pitch(trial, note_name)]
    phrases += [_end(trial), _level(trial), *_limits(trial), _breaks(len(trial.breaks))]
    if trial.source in (trial.Source.STOPWATCH, trial.Source.PAPER):
        phrases.append(gettext("timed by hand"))
    parts = ", ".join(part for part in phrases if part)
    if not trial.asked_s:
        return f"{parts}."
    return gettext("{result}; target {asked_s:g} s.").format(result=parts, asked_s=trial.asked_s)


_NOT_TIMED = Words(
    {
        VerdictReason.ROOM_TOO_LOUD: gettext_noop(
            "It was too noisy to time this try, so it does not count. "
            "Turn off fans, music or television, or come closer."
        ),
        VerdictReason.ROOM_NOT_HEARD: gettext_noop(
            "There was sound all the time, so this try does not count. "
            "Begin and end in a quiet moment."
        ),
        VerdictReason.SOUND_LOST: gettext_noop(
            "Parts of the sound were lost, so this try does not count. Please try again."
        ),
    }
)


def _missing_sound_words(trial: Trial) -> str:
    """Return the message for a missing sound, by the task's target."""
    for part in trial.parts:
        if part["why"] == VerdictReason.NOTHING_SOUNDED:
            return gettext(
                "The room was too loud to hear you in this try, so nothing was measured."
            )
        if trial.figures.get("doubtful_s") and part["why"] in _NOT_TIMED:
            return _NOT_TIMED[part["why"]]
    return translate(kind_of(trial.task.measure).unheard)


#: Units of what a client counts; a bare count has none.
COUNTED_UNITS = {
    "reps": "times",
    "minutes": "minutes",
    "breaths": "breaths",
    "count": "",
    "lines": "lines",
}


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


def reported_words(figures: dict[str, Any]) -> str:
    """Return the client's reported figures in words."""
    phrases = [
        number_with_unit(figures[name], unit)
        for name, unit in COUNTED_UNITS.items()
        if name in figures
    ]
    if figures.get("ticks"):
        phrases.append(", ".join(figures["ticks"]))
    value = ", ".join(phrases) or gettext("nothing was ticked")
    return gettext("Done: {value}.").format(value=value)


def _glide(trial: Trial) -> str:
    figures = trial.figures
    phrases = [
        gettext("{semitones:.0f} semitones in {total_s:.1f} seconds").format(
            semitones=figures["semitones"], total_s=trial.total_s
        )
    ]
    phrases += [words for words in (_level(trial),) if words]
    phrases.append(_breaks(len(trial.breaks)) or gettext("without a break"))
    phrases += [
        WHY[VerdictReason.WRONG_WAY]
        for part in trial.parts
        if part["why"] == VerdictReason.WRONG_WAY
    ]
    if figures.get("circles", 0) > 1:
        phrases.append(gettext("{circles} times up and down").format(circles=figures["circles"]))
    if figures["jumps"]:
        count = len(figures["jumps"])
        phrases.append(ngettext("one jump", "{count} jumps", count).format(count=count))
    return f"{', '.join(phrases)}."


def _pattern(trial: Trial) -> str:
    figures = trial.figures
    if "notes_on_pitch" not in figures:
        return _air_words(trial)
    return gettext("{notes_on_pitch} of {notes_asked} notes on pitch.").format(
        notes_on_pitch=figures["notes_on_pitch"], notes_asked=figures["notes_asked"]
    )


def _compound(trial: Trial) -> str:
    figures = trial.figures
    if "gap_s" not in figures:
        return _air_words(trial)
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
    """Return pulses, bursts and air before voice: the count, then met or not."""
    figures = trial.figures
    phrases = (
        [
            gettext("{pulses} of {pulses_asked}").format(
                pulses=figures["pulses"], pulses_asked=figures["pulses_asked"]
            )
        ]
        if "pulses" in figures
        else []
    )
    if figures.get("rest_s"):
        phrases.append(gettext("then {rest_s:.1f} seconds").format(rest_s=figures["rest_s"]))
    if "air_s" in figures:
        phrases.append(
            gettext("air for {air_s:.1f} seconds, then voice for {voiced_s:.1f}").format(
                air_s=figures["air_s"], voiced_s=figures["voiced_s"]
            )
        )
    phrases += [
        WHY[VerdictReason(part["why"])] for part in trial.parts if part["part"] != Aspect.AIR
    ]
    return f"{', '.join(phrases)}."


def _words_for_figures(trial: Trial) -> Callable[..., Any] | None:
    """Return the words for a rhythm, a start or a glide; None for other tasks."""
    found = set(trial.figures)
    return next((words for names, words in _BY_FIGURES if names & found), None)


def _start_words(trial: Trial) -> str:
    """Return a start on its beat: how early or late."""
    late = trial.figures["late_ms"]
    phrases = [
        gettext("{total_s:.1f} seconds").format(total_s=trial.total_s),
        *(WHY[VerdictReason(part["why"])] for part in trial.parts),
    ]
    if abs(late) >= SOON_MS:
        words = (
            gettext("{seconds:.1f} seconds late")
            if late > 0
            else gettext("{seconds:.1f} seconds early")
        )
        phrases.append(words.format(seconds=abs(late) / 1000))
    return f"{', '.join(phrases)}."


def _air_words(trial: Trial) -> str:
    """Return the words for air alone, or for a voice without a known beat."""
    phrases = [gettext("{total_s:.1f} seconds").format(total_s=trial.total_s)]
    phrases += [WHY[VerdictReason(part["why"])] for part in trial.parts]
    return f"{', '.join(phrases)}."


#: Do not give a figure for a start this close to its beat, milliseconds.
SOON_MS = 100


#: Kinds whose result is not their measure's main figure.
_BY_FIGURES = (
    ({"pulses", "air_s"}, _rhythm),
    ({"late_ms"}, _start_words),
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


def _steadiness(trial: Trial) -> str:
    """Return the steadiness of the pitch; a wide spread only if steadiness was part of the target.

    A client with a tremor who was asked for a length is not told that the voice wavers.
    """
    if trial.spread_cents is None:
        return ""
    if trial.spread_cents <= STEADY_CENTS:
        return gettext("steady")
    if trial.spread_cents <= FAIRLY_STEADY_CENTS:
        return gettext("fairly steady")
    # A limit of the target that is not kept has words of its own.
    is_asked = trial.task.counts == trial.task.Counts.STEADY
    return gettext("wavering") if is_asked else ""


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
        words = (
            gettext("{value:.0f} semitones flat of {note_name}")
            if error < 0
            else gettext("{value:.0f} semitones sharp of {note_name}")
        )
        return words.format(value=abs(error) / 100, note_name=note_name)
    words = (
        gettext("{error:.0f} cents flat of {note_name}")
        if error < 0
        else gettext("{error:.0f} cents sharp of {note_name}")
    )
    return words.format(error=abs(error), note_name=note_name)


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
    """Yield the missed steadiness limits of the target."""
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
