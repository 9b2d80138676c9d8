"""Pulses, bursts, air before voice, and glides in a direction: each on sound with known figures."""

import json
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from math import inf, nan
from uuid import uuid4

import numpy as np
import pytest

from reedcore.catalogue import shipped_tasks
from reedcore.history import TrialRecord
from reedcore.history.load import load_of_week
from reedcore.measures import TrialContext, measure_trial
from reedcore.measures.kinds import KINDS
from reedcore.programme.document_values import item_from
from reedcore.programme.prescribed_item import PrescribedItem
from reedcore.progress import VoiceLoad
from reedcore.synthvoice import Hiss, Room, Silence, VoicedPart, render
from reedcore.targets import Aspect, Judgement
from reedcore.targets.judging import VerdictReason
from tests.documents import new_item

RATE_HZ = 16_000
QUIET = Room(-66.0)


def prescribed_item(code, **params):
    task = shipped_tasks()[code]
    item = new_item(task, id="a")
    item["params"] |= params
    return PrescribedItem(0, 1, code, task.measure, task.sound, item=item_from(item), shipped=task)


def judge_parts(code, *parts, **params):
    clip = render((Silence(0.6), *parts, Silence(1.2)), room=QUIET, rate_hz=RATE_HZ, seed=3)
    heard = measure_trial(
        prescribed_item(code, **params).goal, TrialContext(), clip.samples, RATE_HZ
    )
    return heard, {part.part.value: part.why.value for part in heard.judgement.parts}


def pulses(gaps_s, kind=lambda: Hiss(0.2)):
    return [part for gap in gaps_s for part in (kind(), Silence(gap))]


EVEN, UNEVEN = [0.4] * 8, [0.2, 0.7, 0.3, 0.9, 0.2, 0.6, 0.25, 0.8]


@pytest.mark.parametrize(
    ("gaps", "kind", "says"),
    [
        (EVEN, lambda: Hiss(0.2), ("enough_pulses", "even_pulses")),
        (EVEN, lambda: VoicedPart(0.2, 130.0, vowel="ee"), ("enough_pulses", "even_pulses")),
        (EVEN[:5], lambda: Hiss(0.2), ("too_few_pulses", "even_pulses")),
        (UNEVEN, lambda: Hiss(0.2), ("enough_pulses", "uneven_pulses")),
    ],
    ids=["on s", "on z", "five of eight", "uneven"],
)
def test_pulses_are_counted_and_their_evenness_is_judged(gaps, kind, says):
    heard, why = judge_parts("pulses", *pulses(gaps, kind))
    assert heard.columns["figures"]["pulses"] == len(gaps)
    assert (why["pulses"], why["evenness"]) == says


def test_four_sh_and_all_that_is_left():
    bursts = pulses([0.3] * 4, lambda: Hiss(0.25))
    heard, why = judge_parts("sh_four", *bursts, Hiss(4.0))
    assert heard.columns["figures"]["pulses"] == 4
    assert heard.columns["figures"]["rest_s"] == pytest.approx(4.0, abs=0.1)
    assert why == {"pulses": "enough_pulses", "rest": "rested"}
    assert judge_parts("sh_four", *bursts)[1]["rest"] == "no_rest"
    assert judge_parts("sh_four", *bursts[:4], Hiss(4.0))[1]["pulses"] == "too_few_pulses"


def test_air_runs_before_the_voice_or_it_does_not():
    air = Hiss(1.2, level_dbfs=-38.0)
    heard, why = judge_parts("air_first", air, VoicedPart(2.5, 150.0))
    assert why == {"air": "air_first"}
    assert heard.columns["figures"]["air_s"] == pytest.approx(1.2, abs=0.15)
    assert judge_parts("air_first", VoicedPart(2.5, 150.0))[1] == {"air": "voice_at_once"}


def test_silence_is_not_judged():
    for code, part in (("pulses", "pulses"), ("sh_four", "pulses"), ("air_first", "air")):
        heard, why = judge_parts(code, Silence(2.0))
        assert why == {part: "nothing_sounded"}
        assert heard.judgement.overall == "not_judged"


UP = VoicedPart(3.0, ((0.0, 130.0), (3.0, 260.0)))
DOWN = VoicedPart(3.0, ((0.0, 260.0), (3.0, 130.0)))
SIREN = VoicedPart(6.0, ((0.0, 130.0), (3.0, 260.0), (6.0, 130.0)))


@pytest.mark.parametrize(
    ("code", "sound", "says"),
    [
        ("sirens", (UP,), "wrong_way"),
        ("sirens", (SIREN,), "right_way"),
        ("sigh_down", (DOWN,), "right_way"),
        ("sigh_down", (UP,), "wrong_way"),
        ("block_stretch", (UP,), "right_way"),
        ("block_stretch", (SIREN,), "wrong_way"),
        # Up, a breath, down: one try of both.
        ("strong_glides", (UP, Silence(1.4), DOWN), "right_way"),
        ("strong_glides", (UP,), "wrong_way"),
    ],
)
def test_a_glide_is_judged_by_the_way_it_goes(code, sound, says):
    heard, why = judge_parts(code, *sound)
    assert why["way"] == says
    assert (heard.judgement.overall == "not_met") == (says == "wrong_way")


def test_a_breath_inside_is_no_break():
    heard, _ = judge_parts("strong_glides", UP, Silence(1.4), DOWN)
    assert heard.columns["breaks"] == []
    assert heard.columns["total_s"] == pytest.approx(7.4, abs=0.2)


def test_a_start_without_a_known_beat_says_so():
    _, why = judge_parts("breath_on_seven", VoicedPart(2.0, 140.0))
    assert why == {"start": "no_beat"}


def test_the_listening_mode_follows_the_shape_and_the_measure_stays():
    assert prescribed_item("pulses").kind == "pulses"
    assert prescribed_item("pulses").measure == "pattern"
    plain = replace(prescribed_item("sirens"), shipped=replace(shipped_tasks()["sirens"], shape=""))
    assert plain.glide.way == ""


def test_the_load_of_a_trial_is_its_voice_and_its_vibrations():
    heard, _ = judge_parts("hum_hold", VoicedPart(4.0, 200.0))
    figures = heard.columns["figures"]
    assert figures["load_s"] == pytest.approx(4.0, abs=0.1)
    assert figures["cycles"] == pytest.approx(800, rel=0.03)
    assert "cycles" not in judge_parts("steady_hiss", Hiss(4.0))[0].columns.get("figures", {})


def test_a_figure_that_is_no_number_is_none_wherever_it_stands(monkeypatch):
    found = {"total_s": inf, "figures": {"hz": nan, "jumps": [{"hz": nan, "semitones": 3.0}]}}
    kind = replace(KINDS["hold"], figures=lambda *_: (dict(found), Judgement(())))
    monkeypatch.setitem(KINDS, "hold", kind)
    columns = judge_parts("hum_hold", VoicedPart(2.0, 200.0))[0].columns
    assert columns["total_s"] is None
    assert columns["figures"]["hz"] is None
    assert columns["figures"]["jumps"] == [{"hz": None, "semitones": 3.0}]
    json.dumps(columns, allow_nan=False)


def test_a_glide_keeps_its_circles_beside_its_vibrations():
    siren = ((0.0, 150.0), (1.5, 300.0), (3.0, 150.0), (4.5, 300.0), (6.0, 150.0))
    figures = judge_parts("sirens", VoicedPart(6.0, siren))[0].columns["figures"]
    assert figures["circles"] == 2
    assert figures["cycles"] == pytest.approx(6 * 216, rel=0.05)


def test_the_load_of_a_week_adds_up_and_is_unknown_without_a_voice():
    def trial(days_ago, **figures):
        at = datetime(2026, 3, 9, 12, tzinfo=UTC) - timedelta(days=days_ago)
        return TrialRecord(uuid4(), 1, None, at, at.date(), "met", figures=figures)

    today = date(2026, 3, 9)
    week = [
        trial(0, load_s=4.0, cycles=800),
        trial(6, load_s=2.0, cycles=300),
        trial(7, load_s=9.0, cycles=1),
    ]
    assert load_of_week(week, today) == VoiceLoad(6.0, 1100)
    assert load_of_week([trial(1, reps=3)], today) is None


def test_a_sound_too_strong_says_so_and_not_that_the_room_was_loud():
    clip = render((Silence(0.6), VoicedPart(4.0, 200.0), Silence(1.2)), room=QUIET, rate_hz=RATE_HZ)
    loud = np.clip(clip.samples / np.abs(clip.samples).max() * 4.0, -1.0, 1.0)
    wanted = prescribed_item("strong_ah").goal
    assert wanted.target.floor_db is None
    wanted = replace(wanted, target=replace(wanted.target, end_fall_db=3.0))
    heard = measure_trial(wanted, TrialContext(), loud, RATE_HZ)
    assert heard.judgement.judgement_of(Aspect.END_FALL).why is VerdictReason.CLIPPED
