"""A try compared with its target: met, not met, or not judged."""

import pytest

from reedcore.errors import ValueOutOfRange
from reedcore.pitch import Note
from reedcore.targets import Aspect, HoldTarget, SecondsKind, TrialMeasures, Verdict, judge
from reedcore.targets.judging import TargetShape, VerdictReason
from reedcore.targets.movements import (
    GlideMeasured,
    GlideTarget,
    judge_glide,
    judge_hiss,
    judge_join,
)

F3 = Note.named("F3")
FIFTEEN = HoldTarget(seconds=15, note=F3)
STEADY = HoldTarget(seconds=15, counts=SecondsKind.STEADY)
ANY_NOTE = HoldTarget(seconds=15)


def sung(total_s, error=0.0, share=1.0, steady_s=None):
    steady_s = total_s - 0.3 if steady_s is None else steady_s
    return TrialMeasures(
        total_s=total_s, steady_s=steady_s, error_cents=error, share_on_pitch=share
    )


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
    "silence": (TrialMeasures(total_s=None), FIFTEEN, "not_judged", "no_voice", "no_voice"),
    "whispered": (TrialMeasures(16, 15), FIFTEEN, "not_judged", "reached", "no_pitch"),
    "by hand, on a note": (
        TrialMeasures(16, is_by_hand=True), FIFTEEN, "not_judged", "reached", "timed_by_hand",
    ),
    "by hand, any note": (TrialMeasures(16, is_by_hand=True), ANY_NOTE, "met", "reached", None),
    "what reads 15.0 has reached 15": (sung(14.96), FIFTEEN, "met", "reached", "on_note"),
    "what reads 14.9 has not": (sung(14.94), FIFTEEN, "not_met", "short", "on_note"),
    "short, and no pitch was heard": (TrialMeasures(14, 13), FIFTEEN, "not_met", "short", "no_pitch"),
    "by hand and short, on a note": (
        TrialMeasures(14, is_by_hand=True), FIFTEEN, "not_met", "short", "timed_by_hand",
    ),
    "by hand, steady": (TrialMeasures(16, is_by_hand=True), STEADY, "not_judged", "timed_by_hand", None),
    "loud room, steady": (TrialMeasures(16), STEADY, "not_judged", "room_too_loud", None),
}  # fmt: skip


@pytest.mark.parametrize(
    ("measured", "target", "overall", "seconds", "pitch"), TABLE.values(), ids=TABLE.keys()
)
def test_verdicts(measured, target, overall, seconds, pitch):
    judgement = judge(measured, target)
    assert judgement.overall == Verdict(overall)
    assert judgement.judgement_of(Aspect.SECONDS).why == VerdictReason(seconds)
    on_pitch = judgement.judgement_of(Aspect.PITCH)
    assert (on_pitch.why if on_pitch else None) == (VerdictReason(pitch) if pitch else None)


@pytest.mark.parametrize("seconds", [-3, 0, 0.4, 91, 400])
def test_an_impossible_target_is_refused(seconds):
    with pytest.raises(ValueOutOfRange):
        HoldTarget(seconds=seconds)


BAND = HoldTarget(seconds=5, floor_db=-6.0, ceiling_db=4.0)
LEVELS = {
    "inside": (0.0, "met", VerdictReason.LEVEL_INSIDE),
    "at its edge": (4.0, "met", VerdictReason.LEVEL_INSIDE),
    "under": (-6.1, "not_met", VerdictReason.TOO_SOFT),
    "over": (4.1, "not_met", VerdictReason.TOO_LOUD),
    "no reference on this device": (None, "not_judged", VerdictReason.NO_REFERENCE),
}


@pytest.mark.parametrize(("level_db", "verdict", "why"), LEVELS.values(), ids=LEVELS)
def test_level_against_its_band(level_db, verdict, why):
    part = judge(TrialMeasures(total_s=6.0, level_db=level_db), BAND).judgement_of(Aspect.LEVEL)
    assert (part.verdict, part.why) == (verdict, why)


def test_a_floor_alone_has_no_top():
    loud = HoldTarget(seconds=5, floor_db=8.0)
    assert judge(TrialMeasures(total_s=6.0, level_db=30.0), loud).overall is Verdict.MET


def test_a_trial_whose_level_is_not_judged_is_neither_on_nor_off_target():
    assert judge(TrialMeasures(total_s=6.0), BAND).overall is Verdict.NOT_JUDGED
    changed = TrialMeasures(total_s=6.0, no_level=VerdictReason.SOUND_CHANGED)
    assert judge(changed, BAND).judgement_of(Aspect.LEVEL).why is VerdictReason.SOUND_CHANGED


GLIDES = {
    "just a glide": (GlideMeasured(5, 2, 1), GlideTarget(), "met"),
    "far enough": (GlideMeasured(11.2, 2, 1), GlideTarget(12), "met"),
    "not far enough": (GlideMeasured(10.9, 0, 0), GlideTarget(12), "not_met"),
    "a flip where none is asked": (
        GlideMeasured(12, 1, 0),
        GlideTarget(12, is_unbroken=True),
        "not_met",
    ),
    "a flip at first is no fault": (GlideMeasured(12, 1, 1), GlideTarget(12), "met"),
    "a jump": (GlideMeasured(12, 0, 1), GlideTarget(12, is_unbroken=True, no_jump=True), "not_met"),
    "through": (GlideMeasured(12, 0, 0), GlideTarget(12, is_unbroken=True, no_jump=True), "met"),
    "nothing heard": (None, GlideTarget(12), "not_judged"),
}


@pytest.mark.parametrize(("measured", "target", "overall"), GLIDES.values(), ids=GLIDES)
def test_glides(measured, target, overall):
    assert judge_glide(measured, target).overall == overall


@pytest.mark.parametrize(
    ("gap_s", "longest", "overall"),
    [
        (0.28, 0.3, "met"),
        (0.35, 0.3, "not_met"),
        (0.0, 0.0, "met"),
        (0.06, 0.0, "not_met"),
        (None, 0.3, "not_judged"),
    ],
)
def test_joins(gap_s, longest, overall):
    assert judge_join(gap_s, longest_gap_s=longest).overall == overall


def test_a_hiss_over_a_telephone_line_is_not_judged():
    assert judge_hiss(12.0, target_s=10.0).overall is Verdict.MET
    assert judge_hiss(9.0, target_s=10.0).overall is Verdict.NOT_MET
    narrow = judge_hiss(12.0, target_s=10.0, is_narrow=True)
    assert narrow.judgement_of(Aspect.SECONDS).why is VerdictReason.NARROW_BAND
    assert judge_hiss(12.0, target_s=10.0, is_narrow=True, is_by_hand=True).overall is Verdict.MET
    assert judge_hiss(None, target_s=10.0).overall is Verdict.NOT_JUDGED


EVEN = HoldTarget(seconds=5, spread_cents=20.0, level_spread_db=2.0, end_fall_db=3.0)
#: (spread, level spread, end fall) → judgement of each, and of the whole.
EVENNESS = {
    "even": ((20.0, 2.0, 3.0), ("even_pitch", "even_level", "held_to_end"), "met"),
    "wavering": ((20.1, 1.0, 1.0), ("wavered", "even_level", "held_to_end"), "not_met"),
    "uneven in level": ((10.0, 2.1, 1.0), ("even_pitch", "uneven_level", "held_to_end"), "not_met"),
    "trailing off by 14 dB": ((10.0, 1.0, 14.0), ("even_pitch", "even_level", "trailed_off"), "not_met"),
    "in a loud room": ((None, None, None), ("room_too_loud",) * 3, "not_judged"),
    "trailing off, the pitch not judged": (
        (None, 1.0, 14.0), ("room_too_loud", "even_level", "trailed_off"), "not_met",
    ),
}  # fmt: skip


@pytest.mark.parametrize(("heard", "whys", "overall"), EVENNESS.values(), ids=EVENNESS)
def test_every_steadiness_limit_is_judged_by_itself(heard, whys, overall):
    spread, level, fall = heard
    tried = TrialMeasures(total_s=6.0, spread_cents=spread, level_sd_db=level, end_fall_db=fall)
    found = judge(tried, EVEN)
    parts = (Aspect.SPREAD, Aspect.LEVEL_SPREAD, Aspect.END_FALL)
    assert tuple(found.judgement_of(part).why for part in parts) == whys
    assert found.overall == Verdict(overall)


def test_a_limit_that_is_not_set_is_no_part():
    tried = TrialMeasures(total_s=6.0, end_fall_db=14.0)
    assert judge(tried, HoldTarget(seconds=5)).overall is Verdict.MET


SHAPES = {
    "swelling and fading": ("both", 8.0, 6.0, "met"),
    "swelling only": ("both", 8.0, 1.0, "not_met"),
    "even, where both are asked": ("both", 1.0, 1.0, "not_met"),
    "a swell": ("swell", 5.0, 2.9, "met"),
    "a swell that fades too": ("swell", 5.0, 3.0, "not_met"),
    "a fade": ("fade", 1.0, 9.0, "met"),
    "not judged": ("fade", None, None, "not_judged"),
}


@pytest.mark.parametrize(("shape", "rise", "fall", "overall"), SHAPES.values(), ids=SHAPES)
def test_a_level_shape_is_judged_and_a_falling_end_is_no_fault_of_it(shape, rise, fall, overall):
    target = HoldTarget(seconds=5, shape=TargetShape(shape), level_spread_db=2.0, end_fall_db=3.0)
    tried = TrialMeasures(
        total_s=6.0, rise_db=rise, fall_db=fall, level_sd_db=9.0, end_fall_db=14.0
    )
    found = judge(tried, target)
    assert found.overall == Verdict(overall)
    assert found.judgement_of(Aspect.END_FALL) is None


@pytest.mark.parametrize(
    ("heard", "spread", "level"),
    [
        ({}, VerdictReason.ROOM_TOO_LOUD, VerdictReason.ROOM_TOO_LOUD),
        ({"no_spread": VerdictReason.BREATHY}, VerdictReason.BREATHY, VerdictReason.ROOM_TOO_LOUD),
        ({"no_level": VerdictReason.CLIPPED}, VerdictReason.ROOM_TOO_LOUD, VerdictReason.CLIPPED),
        (
            {"no_level": VerdictReason.SOUND_CHANGED},
            VerdictReason.ROOM_TOO_LOUD,
            VerdictReason.SOUND_CHANGED,
        ),
        ({"is_by_hand": True}, VerdictReason.TIMED_BY_HAND, VerdictReason.TIMED_BY_HAND),
    ],
    ids=str,
)
def test_the_reason_for_unjudged_evenness_is_given(heard, spread, level):
    asked = HoldTarget(seconds=5, spread_cents=20.0, level_spread_db=2.0, end_fall_db=3.0)
    judgement = judge(TrialMeasures(total_s=6.0, **heard), asked)
    assert judgement.judgement_of(Aspect.SPREAD).why is spread
    assert judgement.judgement_of(Aspect.LEVEL_SPREAD).why is level
    assert judgement.judgement_of(Aspect.END_FALL).why is level
    assert judgement.overall is Verdict.NOT_JUDGED
