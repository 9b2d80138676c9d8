"""Limits are inclusive: a value on the limit is inside, and one just beyond is outside."""

from dataclasses import replace
from datetime import date, timedelta

import pytest

from reedcore.decisions import Case, PastTrial, ScaleAnswer, Settings, propose
from reedcore.decisions.block import block_complete
from reedcore.errors import ValueOutOfRange
from reedcore.pitch import Note
from reedcore.targets import HoldTarget, TrialMeasures, judge
from reedcore.targets.judging import TargetShape
from reedcore.targets.movements import (
    GlideMeasured,
    GlideTarget,
    MovementDirection,
    judge_glide,
    judge_hiss,
    judge_join,
    judge_pulses,
)

F3 = Note.named("F3")


def parts(judgement):
    return [(each.part.value, each.verdict.value, each.why.value) for each in judgement.parts]


def judge_trial(target=None, **heard):
    asked = {"seconds": 5.0, **(target or {})}
    return parts(judge(TrialMeasures(**{"total_s": 6.0, **heard}), HoldTarget(**asked)))[1:]


HELD = ("seconds", "met", "reached")
LEVEL = {"floor_db": 2.0, "ceiling_db": 8.0}
EDGES = {
    "spread on its limit": ({"spread_cents": 20.0}, {"spread_cents": 20.0}, ("spread", "met", "even_pitch")),
    "spread over it": ({"spread_cents": 20.0}, {"spread_cents": 20.1}, ("spread", "not_met", "wavered")),
    "level spread": ({"level_spread_db": 2.0}, {"level_sd_db": 2.0}, ("level_spread", "met", "even_level")),
    "level spread over": ({"level_spread_db": 2.0}, {"level_sd_db": 2.1}, ("level_spread", "not_met", "uneven_level")),
    "end fall": ({"end_fall_db": 3.0}, {"end_fall_db": 3.0}, ("end_fall", "met", "held_to_end")),
    "end fall over": ({"end_fall_db": 3.0}, {"end_fall_db": 3.1}, ("end_fall", "not_met", "trailed_off")),
    "spread not known": ({"spread_cents": 20.0}, {}, ("spread", "not_judged", "room_too_loud")),
    "spread by hand": ({"spread_cents": 20.0}, {"is_by_hand": True}, ("spread", "not_judged", "timed_by_hand")),
    "spread of silence": ({"spread_cents": 20.0}, {"total_s": None}, ("spread", "not_judged", "no_voice")),
    "on the floor": (LEVEL, {"level_db": 2.0}, ("level", "met", "level_inside")),
    "under the floor": (LEVEL, {"level_db": 1.9}, ("level", "not_met", "too_soft")),
    "on the ceiling": (LEVEL, {"level_db": 8.0}, ("level", "met", "level_inside")),
    "over the ceiling": (LEVEL, {"level_db": 8.1}, ("level", "not_met", "too_loud")),
    "a floor alone": ({"floor_db": 2.0}, {"level_db": 1.0}, ("level", "not_met", "too_soft")),
    "a ceiling alone": ({"ceiling_db": 8.0}, {"level_db": 9.0}, ("level", "not_met", "too_loud")),
    "no reference": (LEVEL, {}, ("level", "not_judged", "no_reference")),
    "level by hand": (LEVEL, {"is_by_hand": True}, ("level", "not_judged", "timed_by_hand")),
    "level of silence": (LEVEL, {"total_s": None}, ("level", "not_judged", "no_voice")),
    "swell of 3 dB": ({"shape": TargetShape.SWELL}, {"rise_db": 3.0, "fall_db": 2.9}, ("shape", "met", "shaped")),
    "swell of less": ({"shape": TargetShape.SWELL}, {"rise_db": 2.9, "fall_db": 0.0}, ("shape", "not_met", "not_shaped")),
    "fade of 3 dB": ({"shape": TargetShape.FADE}, {"rise_db": 0.0, "fall_db": 3.0}, ("shape", "met", "shaped")),
    "both": ({"shape": TargetShape.BOTH}, {"rise_db": 3.0, "fall_db": 3.0}, ("shape", "met", "shaped")),
    "half of both": ({"shape": TargetShape.BOTH}, {"rise_db": 3.0, "fall_db": 1.0}, ("shape", "not_met", "not_shaped")),
    "half a shape known": ({"shape": TargetShape.BOTH}, {"rise_db": 3.0}, ("shape", "not_judged", "room_too_loud")),
    "shape of silence": ({"shape": TargetShape.BOTH}, {"total_s": None}, ("shape", "not_judged", "no_voice")),
    "80 % on pitch": ({"note": F3}, {"error_cents": 0.0, "share_on_pitch": 0.8}, ("pitch", "met", "on_note")),
    "an error without a share": ({"note": F3}, {"error_cents": 0.0}, ("pitch", "not_judged", "no_pitch")),
    "a share without an error": ({"note": F3}, {"share_on_pitch": 1.0}, ("pitch", "not_judged", "no_pitch")),
    "an octave low and 50": ({"note": F3}, {"error_cents": -1250.0, "share_on_pitch": 0.0}, ("pitch", "not_met", "octave_low")),
    "an octave high less 50": ({"note": F3}, {"error_cents": 1150.0, "share_on_pitch": 0.0}, ("pitch", "not_met", "octave_high")),
    "an octave high and 50": ({"note": F3}, {"error_cents": 1250.0, "share_on_pitch": 0.0}, ("pitch", "not_met", "octave_high")),
    "an octave low less 50": ({"note": F3}, {"error_cents": -1150.0, "share_on_pitch": 0.0}, ("pitch", "not_met", "octave_low")),
    "51 sharp": ({"note": F3}, {"error_cents": 51.0, "share_on_pitch": 1.0}, ("pitch", "not_met", "sharp")),
}  # fmt: skip


@pytest.mark.parametrize(("target", "heard", "says"), EDGES.values(), ids=EDGES)
def test_a_part_at_its_limit(target, heard, says):
    assert judge_trial(target, **heard) == [says]


def test_a_limit_that_is_not_known_does_not_hide_the_next():
    limits = {"spread_cents": 20.0, "level_spread_db": 2.0, "end_fall_db": 3.0}
    found = judge_trial(limits, level_sd_db=1.0, end_fall_db=9.0)
    assert [verdict for _, verdict, _ in found] == ["not_judged", "met", "not_met"]
    only = judge_trial({"end_fall_db": 3.0}, end_fall_db=9.0)
    assert [part for part, _, _ in only] == ["end_fall"]


def test_the_parts_of_the_seconds():
    target = HoldTarget(seconds=5.0)
    assert parts(judge(TrialMeasures(total_s=5.0), target)) == [HELD]
    assert parts(judge(TrialMeasures(total_s=4.9), target)) == [("seconds", "not_met", "short")]
    assert parts(judge(TrialMeasures(total_s=None), target)) == [
        ("seconds", "not_judged", "no_voice")
    ]


@pytest.mark.parametrize("seconds", [0.5, 90.0])
def test_the_least_and_the_most_that_can_be_asked(seconds):
    assert HoldTarget(seconds=seconds).seconds == seconds


@pytest.mark.parametrize("seconds", [0.49, 90.1])
def test_more_and_less_is_refused_with_its_limits(seconds):
    with pytest.raises(ValueOutOfRange) as refused:
        HoldTarget(seconds=seconds)
    assert refused.value.facts == {
        "what": "target seconds", "value": seconds, "lowest": 0.5, "highest": 90.0,
    }  # fmt: skip


def glide(target, **heard):
    usual = {"semitones": 12.0, "breaks": 0, "jumps": 0, "up_st": 12.0, "down_st": 0.0}
    return parts(judge_glide(GlideMeasured(**{**usual, **heard}), GlideTarget(**target)))


@pytest.mark.parametrize(
    ("target", "heard", "says"),
    [
        ({"semitones": 13.0}, {}, ("span", "met", "spanned")),
        ({"semitones": 13.1}, {}, ("span", "not_met", "too_narrow")),
        ({"is_unbroken": True}, {"breaks": 1}, ("breaks", "not_met", "broken")),
        ({"is_unbroken": True}, {}, ("breaks", "met", "unbroken")),
        ({"no_jump": True}, {"jumps": 1}, ("jumps", "not_met", "jumped")),
        ({"no_jump": True}, {}, ("jumps", "met", "no_jump")),
        ({"way": MovementDirection.UP}, {"up_st": 2.0, "down_st": 1.0}, ("way", "met", "right_way")),
        ({"way": MovementDirection.UP}, {"up_st": 1.9}, ("way", "not_met", "wrong_way")),
        ({"way": MovementDirection.UP}, {"up_st": 12.0, "down_st": 6.1}, ("way", "not_met", "wrong_way")),
        ({"way": MovementDirection.DOWN}, {"up_st": 6.0, "down_st": 12.0}, ("way", "met", "right_way")),
        ({"way": MovementDirection.DOWN}, {"up_st": 0.0, "down_st": 1.9}, ("way", "not_met", "wrong_way")),
        ({"way": MovementDirection.DOWN}, {"up_st": 6.1, "down_st": 12.0}, ("way", "not_met", "wrong_way")),
        ({"way": MovementDirection.UP_AND_DOWN}, {"up_st": 12.0, "down_st": 6.0}, ("way", "met", "right_way")),
        ({"way": MovementDirection.UP_AND_DOWN}, {"up_st": 5.9, "down_st": 12.0}, ("way", "not_met", "wrong_way")),
        ({"way": MovementDirection.UP_AND_DOWN}, {"up_st": 1.9, "down_st": 1.9}, ("way", "not_met", "wrong_way")),
    ],
)  # fmt: skip
def test_a_glide_at_its_limits(target, heard, says):
    assert glide(target, **heard)[-1] == says


def test_an_unmeasured_movement():
    assert parts(judge_glide(None, GlideTarget())) == [("span", "not_judged", "no_voice")]
    by_hand = judge_glide(None, GlideTarget(), is_by_hand=True)
    assert parts(by_hand) == [("span", "not_judged", "timed_by_hand")]
    assert parts(judge_join(None, longest_gap_s=0.3)) == [("join", "not_judged", "no_hiss")]
    assert parts(judge_join(0.32, longest_gap_s=0.3)) == [("join", "met", "joined")]
    assert parts(judge_join(0.33, longest_gap_s=0.3)) == [("join", "not_met", "gapped")]
    assert parts(judge_hiss(None, target_s=5.0)) == [("seconds", "not_judged", "no_hiss")]
    assert parts(judge_hiss(9.0, target_s=5.0, is_narrow=True)) == [
        ("seconds", "not_judged", "narrow_band")
    ]
    assert parts(judge_hiss(9.0, target_s=5.0, is_narrow=True, is_by_hand=True)) == [HELD]
    assert parts(judge_hiss(4.9, target_s=5.0)) == [("seconds", "not_met", "short")]


@pytest.mark.parametrize(
    ("count", "unevenness", "says"),
    [
        (8, 0.15, [("pulses", "met", "enough_pulses"), ("evenness", "met", "even_pulses")]),
        (7, 0.16, [("pulses", "not_met", "too_few_pulses"), ("evenness", "not_met", "uneven_pulses")]),
        (9, None, [("pulses", "met", "enough_pulses")]),
    ],
)  # fmt: skip
def test_pulses_at_their_limits(count, unevenness, says):
    assert parts(judge_pulses(count, unevenness, required=8)) == says


# The block and its taper.

TODAY = date(2026, 11, 25)


def day(back):
    return TODAY - timedelta(days=back)


def block(means, **more):
    trials = tuple(
        PastTrial(f"{back}-{place}", f"s{back}", day(back), True, 20.0)
        for back in range(6, -1, -1) for place in range(4)
    )  # fmt: skip
    efforts = tuple(ScaleAnswer(day(back), 3) for back in range(6, -1, -1))
    case = Case(
        TODAY, trials=trials, efforts=efforts, last_session_on=TODAY,
        block_means=tuple((day(back), mean) for back, mean in means),
    )  # fmt: skip
    return replace(case, **more)


GOAL = {"goal_s": 30.0}
TAPERS = {"taper_week": 3, "taper_since": day(7), "peak_s": 30.0}


@pytest.mark.parametrize(
    ("means", "more", "step"),
    [
        ([(1, 30.0), (0, 30.0)], GOAL, "start_taper"),
        ([(1, 29.9), (0, 30.0)], GOAL, None),
        ([(0, 31.0)], GOAL, None),
        ([(7, 30.0), (0, 30.0)], GOAL, "start_taper"),
        ([(8, 30.0), (0, 30.0)], GOAL, None),
        ([(1, 30.0), (0, 30.0)], {}, None),
        ([(1, 30.0), (0, 30.0)], GOAL | {"since": day(1)}, None),
        ([(1, 30.0), (0, 30.0)], GOAL | {"since": day(2)}, "start_taper"),
        ([(1, 30.0), (0, 30.0)], GOAL | {"efforts": ()}, None),
        ([(1, 30.0), (0, 30.0)], GOAL | {"efforts": (ScaleAnswer(TODAY, 5),)}, None),
        ([(2, 26.0), (1, 25.5)], TAPERS, "taper_on"),
        ([(2, 25.0), (1, 25.0)], TAPERS, "taper_back"),
        ([(7, 10.0), (1, 26.0)], TAPERS, "taper_on"),
        ([(2, 26.0), (1, 26.0)], TAPERS | {"taper_since": day(6)}, None),
        ([(2, 20.0), (1, 20.0)], TAPERS | {"taper_since": day(6)}, "taper_back"),
        ([(2, 20.0), (1, 20.0)], TAPERS | {"taper_since": day(2)}, "taper_back"),
        ([(1, 20.0)], TAPERS | {"taper_since": day(6)}, None),
        ([(2, 20.0), (1, 20.0)], TAPERS | {"since": day(1)}, None),
        ([(2, 20.0), (1, 20.0)], TAPERS | {"taper_week": 1}, "check_in"),
        ([(2, 26.0), (1, 26.0)], TAPERS | {"taper_week": 7}, "maintain"),
        ([(2, 26.0), (1, 26.0)], TAPERS | {"peak_s": None}, None),
        ([(2, 26.0), (1, 26.0)], TAPERS | {"taper_since": None}, None),
        ([], TAPERS, None),
    ],
)  # fmt: skip
def test_the_block_at_its_limits(means, more, step):
    found = block_complete(block(means, **more), Settings())
    assert (found.step.value if found else None) == step


def test_the_facts_of_a_complete_block():
    started = block_complete(block([(3, 40.0), (1, 30.0), (0, 32.0)], **GOAL), Settings())
    assert started.facts == {"goal_s": 30.0, "mean_s": 32.0, "peak_s": 40.0}
    kept = block_complete(block([(2, 27.0), (1, 27.0)], **TAPERS), Settings())
    assert kept.facts == {"kept": 0.9, "peak_s": 30.0, "week": 3.0}
    assert (started.otherwise.value, kept.otherwise.value) == ("maintain", "maintain")


def test_a_trial_of_fourteen_days_ago_is_no_evidence_of_now():
    old = PastTrial("a", "s", day(14), False, 5.0)
    case = Case(TODAY, trials=(old,))
    assert case.current_trials() == ()
    assert Case(TODAY, trials=(replace(old, on=day(13)),)).current_trials() != ()
    assert propose(case).step.value == "stay"
