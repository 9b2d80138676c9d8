"""One sentence of advice for the next try: the task's own remedy, or a general one."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.utils.translation import gettext

from reedcore.catalogue.ages import CHILD
from reedcore.targets.judging import VerdictReason
from reedcore.translation import translate
from web.ui.marked import Words, gettext_noop

if TYPE_CHECKING:
    from collections.abc import Iterable

    from reedcore.catalogue.tasks import Task

#: For each reason, what to do next; a reason without a sentence needs none.
NEXT = Words(
    {
        VerdictReason.SHORT: gettext_noop(
            "Next time, breathe low and begin more softly. Stop while it is easy."
        ),
        VerdictReason.FLAT: gettext_noop("Next time, listen to the note and aim a little higher."),
        VerdictReason.SHARP: gettext_noop("Next time, listen to the note and aim a little lower."),
        VerdictReason.WANDERED: gettext_noop("Next time, listen to the note and stay with it."),
        VerdictReason.OCTAVE_LOW: gettext_noop(
            "Next time, listen to the note first. Yours was much lower."
        ),
        VerdictReason.OCTAVE_HIGH: gettext_noop(
            "Next time, listen to the note first. Yours was much higher."
        ),
        VerdictReason.TOO_SOFT: gettext_noop("Next time, use a bit more voice, without pushing."),
        VerdictReason.TOO_LOUD: gettext_noop("Next time, use less voice and keep it easy."),
        VerdictReason.WAVERED: gettext_noop("Next time, let the air flow as evenly as you can."),
        VerdictReason.UNEVEN_LEVEL: gettext_noop("Next time, keep the loudness the same."),
        VerdictReason.TRAILED_OFF: gettext_noop("Next time, stop while the voice is still strong."),
        VerdictReason.NOT_SHAPED: gettext_noop("Next time, let it grow slowly and fade slowly."),
        VerdictReason.TOO_NARROW: gettext_noop(
            "Next time, glide a little farther, but only as far as it is easy."
        ),
        VerdictReason.BROKEN: gettext_noop("Next time, go softer and slower at that place."),
        VerdictReason.JUMPED: gettext_noop("Next time, slide more slowly through that place."),
        VerdictReason.GAPPED: gettext_noop("Next time, keep the voice going between the notes."),
        VerdictReason.WRONG_WAY: gettext_noop("Next time, glide the other way."),
        VerdictReason.TOO_FEW_PULSES: gettext_noop("Next time, do a few more."),
        VerdictReason.UNEVEN_PULSES: gettext_noop("Next time, go slower and keep the beat."),
        VerdictReason.NO_REST: gettext_noop("Next time, make the last one long."),
        VerdictReason.VOICE_AT_ONCE: gettext_noop("Next time, let the air run before the voice."),
        VerdictReason.EARLY: gettext_noop("Next time, wait for the beat."),
        VerdictReason.LATE: gettext_noop("Next time, breathe in one beat earlier."),
        VerdictReason.CLIPPED: gettext_noop("Next time, move a little away from the device."),
    }
)
_FOR_A_CHILD = Words(
    {
        VerdictReason.SHORT: gettext_noop("Next time, start softly."),
        VerdictReason.FLAT: gettext_noop("Next time, go a bit higher."),
        VerdictReason.SHARP: gettext_noop("Next time, go a bit lower."),
        VerdictReason.WANDERED: gettext_noop("Next time, stay on the note."),
        VerdictReason.OCTAVE_LOW: gettext_noop("Next time, listen. Then go up high."),
        VerdictReason.OCTAVE_HIGH: gettext_noop("Next time, listen. Then go down low."),
        VerdictReason.TOO_SOFT: gettext_noop("Next time, be a bit louder."),
        VerdictReason.TOO_LOUD: gettext_noop("Next time, be a bit softer."),
        VerdictReason.WAVERED: gettext_noop("Next time, keep it still."),
        VerdictReason.UNEVEN_LEVEL: gettext_noop("Next time, keep it the same."),
        VerdictReason.TRAILED_OFF: gettext_noop("Next time, stop when it is still strong."),
        VerdictReason.BROKEN: gettext_noop("Next time, go slow."),
        VerdictReason.JUMPED: gettext_noop("Next time, slide slow."),
    }
)
#: Faults of the catalogue, by what measuring shows of them.
SIGNS: dict[VerdictReason, tuple[str, ...]] = {
    VerdictReason.BROKEN: (
        "Bubbles stop.",
        "The trill stops.",
        "The tongue stops.",
        "It breaks in the middle.",
        "It breaks on the way up.",
        "It breaks on the way to the nine.",
        "The buzz is lost when it opens.",
    ),
    VerdictReason.SHORT: (
        "The air is gone at once.",
        "The air is gone before the count.",
        "The air rushes out at once.",
    ),
    VerdictReason.TOO_LOUD: (
        "It gets louder going up.",
        "The tops get louder.",
        "The later notes get louder.",
        "They get louder as they grow.",
        "It hurries or gets loud at the turn.",
        "High notes are pushed.",
        "It is pushed at the top.",
    ),
    VerdictReason.SHARP: ("The pitch rises as it swells.",),
    VerdictReason.WANDERED: ("The note moves with the tongue.", "It slides off the note."),
    VerdictReason.TRAILED_OFF: (
        "It starts strong and thins out.",
        "It is a shout, or it trails off.",
    ),
}


def next_try(task: Task | None, reasons: Iterable[VerdictReason], wording: str) -> str:
    """Return advice for the first reason that has one; "" for none.

    Args:
        task: of the catalogue; None where one held sound was prescribed alone.
        reasons: of the parts that were missed or could not be judged, in their order.
        wording: for whom instructions are worded; a child gets a child's sentence alone.
    """
    for reason in reasons:
        if wording == CHILD:
            if reason in _FOR_A_CHILD:
                return _FOR_A_CHILD[reason]
            continue
        signs = {translate(sign) for sign in SIGNS.get(reason, ())}
        for noticed, remedy in task.faults if task else ():
            if noticed in signs:
                return gettext("Next time: {remedy}").format(remedy=remedy)
        if reason in NEXT:
            return NEXT[reason]
    return ""
