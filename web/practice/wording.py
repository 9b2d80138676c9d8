"""Words for the codes of practice: reasons, advice, answers and titles."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.utils.translation import gettext

from reedcore.dose.today import Voice
from reedcore.safety import Flag, Tier
from reedcore.targets.judging import VerdictReason
from web.ui.marked import Words, gettext_noop

if TYPE_CHECKING:
    from web.record.models import PrescribedTask
    from web.record.prescribed_item import PrescribedRow

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
        VerdictReason.ROOM_NOT_HEARD: gettext_noop(
            "not judged: there was sound before your voice began or after it ended"
        ),
        VerdictReason.SOUND_LOST: gettext_noop("not judged: parts of the sound were lost"),
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
#: The same in a child's words; the adult's words stand beside them.
CHILD_FLAGS = Words(
    {
        Flag.BREATHING: gettext_noop("I can’t breathe well"),
        Flag.CHOKING: gettext_noop("I choke"),
        Flag.CHEST_PAIN: gettext_noop("My chest hurts"),
        Flag.FAINTING_NOW: gettext_noop("I fell down or all went dark"),
        Flag.BLEEDING: gettext_noop("I see a lot of blood"),
        Flag.STROKE_SIGNS: gettext_noop("My face hangs or my words come out wrong"),
        Flag.VOICE_LOST: gettext_noop("My voice is gone"),
        Flag.NEW_PAIN: gettext_noop("It hurts to talk or to eat"),
        Flag.BLOOD_STREAKS: gettext_noop("I see a bit of blood"),
        Flag.LIGHT_HEADED: gettext_noop("My head spins"),
        Flag.STRAIN: gettext_noop("My throat is sore"),
        Flag.HOARSER: gettext_noop("My voice is rough now"),
        Flag.SWALLOWING: gettext_noop("It is hard to swallow"),
        Flag.NECK_LUMP: gettext_noop("I have a bump on my neck"),
        Flag.EAR_PAIN: gettext_noop("My ear hurts"),
        Flag.WEIGHT_LOSS: gettext_noop("I get thin"),
        Flag.UNKNOWN_REASON: gettext_noop("Something was wrong"),
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
    """Return the instruction for a single held sound, in one line."""
    return INSTRUCTIONS[task.counts].format(sound=task.sound)


def title_of(prescribed: PrescribedRow, *, note: Any = None) -> str:
    """Return a task's title on the client's screen."""
    task = prescribed.task
    if task.measure == task.HOLD:
        name = (
            prescribed.shipped.name
            if prescribed.shipped
            else gettext("Hold “{sound}”").format(sound=task.sound)
        )
        if prescribed.shipped and prescribed.shipped.family in ("block", "loud"):
            name = gettext("Hold “{sound}”").format(sound=task.sound)
        return gettext("{name} on {note}").format(name=name, note=note) if note else name
    return prescribed.shipped.name if prescribed.shipped else task.task_code
