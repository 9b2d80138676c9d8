"""Targets proposed from a baseline, as a table: measured figures, proposal, rule."""

from datetime import date

import pytest

from reedcore.baseline import PitchRange
from reedcore.pitch import Note
from reedcore.targets.proposing import (
    Figures,
    Missing,
    Rule,
    TargetKind,
    TargetProposal,
    proposed_targets,
)

DAY = date(2026, 11, 9)


def hz(name):
    return Note.named(name).hz()


def propose(kind, **figures):
    return proposed_targets(Figures(**{"voice": "bass", "on": DAY, **figures}))[kind]


def test_the_set_of_the_voice_where_it_is_comfortable():
    found = propose(TargetKind.NOTES, comfortable_range=PitchRange(hz("A2"), hz("A3")))
    assert found.rule is Rule.SET_BY_VOICE
    assert found.value("warm_up_midi") == Note.named("F3").midi


def test_the_set_moved_into_a_lower_voice():
    found = propose(TargetKind.NOTES, comfortable_range=PitchRange(hz("A2"), hz("E3")))
    assert found.rule is Rule.SET_MOVED
    assert found.value("moved_st") == -3
    assert found.notes.power[-1].name() == "E3"


def test_one_note_where_the_range_is_too_narrow_for_the_set():
    found = propose(
        TargetKind.NOTES, comfortable_range=PitchRange(hz("C3"), hz("E3")), comfortable_hz=hz("D3")
    )
    assert found.rule is Rule.COMFORTABLE_MIDDLE
    assert [note.name() for note in found.notes.power] == ["D3"]


def test_an_own_voice_without_any_pitch_gets_no_notes():
    assert propose(TargetKind.NOTES, voice="own") is Missing.NO_COMFORTABLE_NOTE


HOLDS = {
    "from the volume voiced on": (
        {"phonation_volume_ml": 3200, "vital_capacity_ml": 4000}, Rule.VOLUME_80, 40.0, 32.0,
    ),
    "from all that can be moved": ({"vital_capacity_ml": 2400}, Rule.CAPACITY_80, 30.0, 24.0),
    "from the longest /s/": ({"longest_s_s": 22.0}, Rule.LONGEST_S, 22.0, None),
}  # fmt: skip


@pytest.mark.parametrize(("figures", "rule", "goal", "stage"), HOLDS.values(), ids=HOLDS.keys())
def test_the_hold_goal_and_todays_rung(figures, rule, goal, stage):
    found = propose(TargetKind.HOLD, longest_vowel_s=14.8, **figures)
    assert (found.rule, found.value("goal_s"), found.value("stage_s")) == (rule, goal, stage)
    assert found.value("today_s") == 16.0
    assert dict(found.inputs)["best_s"] == 14.8


def test_nothing_is_proposed_without_a_measurement():
    assert propose(TargetKind.HOLD) is Missing.NO_HOLD
    assert propose(TargetKind.HOLD, longest_vowel_s=12.0) is Missing.NO_GOAL
    assert propose(TargetKind.STEADINESS) is Missing.NO_SPREAD
    assert propose(TargetKind.SOFT_LEVEL) is Missing.NO_COMFORTABLE_LEVEL
    assert propose(TargetKind.LOUD_LEVEL, comfortable_db=-30.0) is Missing.NO_LOUD_LEVEL
    assert (
        propose(TargetKind.LOUD_LEVEL, comfortable_db=-30.0, loud_db=-35.0) is Missing.NO_LOUD_LEVEL
    )


@pytest.mark.parametrize(("spread", "asked"), [(8, 20), (14, 25), (20, 30), (60, 50)])
def test_the_target_spread_is_half_as_much_again_within_limits(spread, asked):
    found = propose(TargetKind.STEADINESS, comfortable_spread_cents=spread)
    assert found.value("spread_cents") == asked


def test_a_floor_for_loud_work_always_has_its_ceiling():
    found = propose(TargetKind.LOUD_LEVEL, comfortable_db=-30.0, loud_db=-18.0)
    assert (found.value("floor_db"), found.value("ceiling_db")) == (6.0, 16.0)


def test_no_loud_target_where_a_caution_forbids_it():
    found = propose(TargetKind.LOUD_LEVEL, comfortable_db=-30.0, loud_db=-18.0, may_be_loud=False)
    assert found is Missing.LOUD_FORBIDDEN


def test_every_proposal_names_what_it_rests_on():
    figures = Figures(
        voice="treble", on=DAY, longest_vowel_s=11.0, longest_s_s=15.0, comfortable_hz=220.0,
        comfortable_range=PitchRange(170.0, 420.0), comfortable_spread_cents=12.0,
        comfortable_db=-28.0, loud_db=-16.0,
    )  # fmt: skip
    found = proposed_targets(figures)
    assert set(found) == set(TargetKind)
    for proposal in found.values():
        assert isinstance(proposal, TargetProposal)
        assert proposal.inputs
        assert proposal.values
