"""A try against its target: met, not met, or not judged."""

import pytest

from reedcore.errors import ValueOutOfRange
from reedcore.pitch import Note
from reedcore.targets import HoldTarget, Measured, Part, SecondsKind, Verdict, judge
from reedcore.targets.judging import Why

F3 = Note.named("F3")
FIFTEEN = HoldTarget(seconds=15, note=F3)
STEADY = HoldTarget(seconds=15, counts=SecondsKind.STEADY)
ANY_NOTE = HoldTarget(seconds=15)


def sung(total_s, error=0.0, share=1.0, steady_s=None):
    steady_s = total_s - 0.3 if steady_s is None else steady_s
    return Measured(total_s=total_s, steady_s=steady_s, error_cents=error, share_on_pitch=share)


TABLE = {
    "long enough, on the note": (sung(15.2), FIFTEEN, "met", "reached", "on_note"),
    "exactly the target": (sung(15.0), FIFTEEN, "met", "reached", "on_note"),
    "a frame short is not short": (sung(14.99), FIFTEEN, "met", "reached", "on_note"),
    "short": (sung(14.2), FIFTEEN, "not_met", "short", "on_note"),
    "50 cents out is still on": (sung(16, -50), FIFTEEN, "met", "reached", "on_note"),
    "51 cents out is flat": (sung(16, -51), FIFTEEN, "not_met", "reached", "flat"),
    "sharp": (sung(16, 80), FIFTEEN, "not_met", "reached", "sharp"),
    "the middle right, the way not": (sung(16, 5, 0.79), FIFTEEN, "not_met", "reached", "wandered"),
    "an octave low": (sung(16, -1190), FIFTEEN, "not_met", "reached", "octave_low"),
    "an octave high": (sung(16, 1230), FIFTEEN, "not_met", "reached", "octave_high"),
    "steady seconds count": (sung(20, steady_s=14.0), STEADY, "not_met", "short", None),
    "enough steady seconds": (sung(20, steady_s=15.5), STEADY, "met", "reached", None),
    "no note asked": (sung(15, 400), ANY_NOTE, "met", "reached", None),
    "silence": (Measured(total_s=None), FIFTEEN, "not_judged", "no_voice", "no_voice"),
    "whispered": (Measured(16, 15), FIFTEEN, "not_judged", "reached", "no_pitch"),
    "by hand, on a note": (
        Measured(16, by_hand=True), FIFTEEN, "not_judged", "reached", "timed_by_hand",
    ),
    "by hand, any note": (Measured(16, by_hand=True), ANY_NOTE, "met", "reached", None),
    "by hand, steady": (Measured(16, by_hand=True), STEADY, "not_judged", "timed_by_hand", None),
    "loud room, steady": (Measured(16), STEADY, "not_judged", "room_too_loud", None),
}  # fmt: skip


@pytest.mark.parametrize(
    ("measured", "target", "overall", "seconds", "pitch"), TABLE.values(), ids=TABLE.keys()
)
def test_verdicts(measured, target, overall, seconds, pitch):
    judgement = judge(measured, target)
    assert judgement.overall == Verdict(overall)
    assert judgement.of(Part.SECONDS).why == Why(seconds)
    on_pitch = judgement.of(Part.PITCH)
    assert (on_pitch.why if on_pitch else None) == (Why(pitch) if pitch else None)


@pytest.mark.parametrize("seconds", [-3, 0, 0.4, 91, 400])
def test_a_target_nobody_could_be_given_is_refused(seconds):
    with pytest.raises(ValueOutOfRange):
        HoldTarget(seconds=seconds)
