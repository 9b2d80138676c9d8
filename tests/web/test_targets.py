"""Targets: proposed from the newest sheet, accepted, changed, refused, each with its reason."""

import pytest
from django.urls import reverse

from tests.factories import baseline, baseline_trial


@pytest.fixture
def measured_sheet(person, clinician):
    """A sheet with figures for every kind of target except levels."""
    person.voice = "bass"
    person.save()
    sheet = baseline(
        person, by=clinician, entries={"comfortable_low_hz": 110.0, "comfortable_high_hz": 220.0}
    )
    for step, figures in (
        ("vowel", {"total_s": 14.8, "steady_s": 13.0}),
        ("s", {"total_s": 18.0}),
        ("volume", {"volume_ml": 3200.0}),
        ("comfortable", {"median_hz": 130.0, "spread_cents": 14.0}),
    ):
        baseline_trial(person, by=clinician, sheet=sheet, step=step, figures=figures)
    return sheet


def page_of(as_clinician, person):
    return as_clinician.get(reverse("baseline:targets", args=[person.pk])).content.decode()


def decide(as_clinician, person, **body):
    return as_clinician.post(reverse("baseline:decide_target", args=[person.pk]), body)


def test_each_proposal_shows_its_formula_and_inputs(as_clinician, person, measured_sheet):
    page = page_of(as_clinician, person)
    for words in (
        "goal 40.0 s", "first stage 32.0 s", "today 16.0 s", "vital capacity ÷ 80 mL/s",
        "volume 3200 mL", "maximum phonation time 14.8 s", "power C3 D3 E3 F3 G3",
        "pitch spread at most 25 cents", "No proposal: the level of the comfortable voice",
    ):  # fmt: skip
        assert words in page


def test_all_are_accepted_at_once_and_only_once(as_clinician, person, measured_sheet, clinician):
    decide(as_clinician, person, what="accept_all")
    decided = {target.kind: target for target in person.targets.all()}
    assert set(decided) == {"notes", "hold", "steadiness"}
    hold = decided["hold"]
    assert hold.values == {"goal_s": 40.0, "stage_s": 32.0, "today_s": 16.0}
    assert hold.inputs == {"volume_ml": 3200.0, "best_s": 14.8}
    assert (hold.rule, hold.counts, hold.decided_by) == ("capacity_80", "total", clinician)
    decide(as_clinician, person, what="accept_all")
    assert person.targets.count() == 3


def test_a_change_keeps_what_was_proposed_and_why(as_clinician, person, measured_sheet):
    sent = {
        "what": "change", "kind": "hold", "hold-goal_s": "30", "hold-stage_s": "24",
        "hold-today_s": "14", "hold-counts": "steady", "hold-reason": "asthma",
    }  # fmt: skip
    decide(as_clinician, person, **sent)
    target = person.targets.get()
    assert target.values == {"goal_s": 30.0, "stage_s": 24.0, "today_s": 14.0}
    assert target.proposed["goal_s"] == 40.0
    assert (target.counts, target.reason, target.decision) == ("steady", "asthma", "changed")
    assert "asthma" in page_of(as_clinician, person)


WRONG = {
    "no reason": ({"hold-reason": ""}, "Enter a short reason."),
    "today beyond the goal": ({"hold-today_s": "45"}, "beyond the goal"),
    "400 seconds": ({"hold-goal_s": "400"}, "less than or equal to 90"),
    "no number": ({"hold-goal_s": "inf"}, "Type a number"),
}


@pytest.mark.parametrize(("typed", "says"), WRONG.values(), ids=WRONG.keys())
def test_a_change_that_cannot_be_is_refused_and_nothing_is_lost(
    as_clinician, person, measured_sheet, typed, says
):
    sent = {
        "what": "change", "kind": "hold", "hold-goal_s": "30", "hold-stage_s": "24",
        "hold-today_s": "14", "hold-counts": "total", "hold-reason": "asthma", **typed,
    }  # fmt: skip
    page = decide(as_clinician, person, **sent).content.decode()
    assert says in page
    assert not person.targets.exists()
    assert 'value="24"' in page


def test_notes_are_changed_by_their_names(as_clinician, person, measured_sheet):
    sent = {
        "what": "change",
        "kind": "notes",
        "notes-warm_up": "D3",
        "notes-power": "A2 B2 C3",
        "notes-reason": "low",
    }
    decide(as_clinician, person, **sent)
    assert person.targets.get().values == {
        "warm_up_midi": 50.0, "power_1_midi": 45.0, "power_2_midi": 47.0, "power_3_midi": 48.0,
    }  # fmt: skip
    assert "H9" in decide(as_clinician, person, **{**sent, "notes-power": "H9"}).content.decode()


def test_a_refusal_keeps_its_reason(as_clinician, person, measured_sheet):
    decide(
        as_clinician, person, what="refuse", kind="steadiness", **{"steadiness-reason": "too early"}
    )
    target = person.targets.get()
    assert (target.decision, target.values, target.reason) == ("refused", {}, "too early")


def test_a_floor_has_its_ceiling_no_more_than_ten_decibels_above(
    as_clinician, person, measured_sheet, clinician
):
    capture = {"device": "Tablet", "browser": "X"}
    for step, level in (("comfortable", -30.0), ("loud", -18.0)):
        baseline_trial(
            person, by=clinician, sheet=measured_sheet, step=step,
            figures={"level_dbfs": level}, capture=capture,
        )  # fmt: skip
    assert "floor, relative to comfortable +6 dB" in page_of(as_clinician, person)
    sent = {
        "what": "change",
        "kind": "loud_level",
        "loud_level-floor_db": "6",
        "loud_level-ceiling_db": "20",
        "loud_level-reason": "strong",
    }
    assert "at most 10 dB above" in decide(as_clinician, person, **sent).content.decode()
    person.cautions = ["vocal_fold_surgery"]
    person.save()
    assert "a caution on record stops loud tasks" in page_of(as_clinician, person)


def test_no_target_is_set_while_a_red_flag_is_open(as_clinician, person, measured_sheet, clinician):
    from django.utils import timezone

    person.screens.create(asked_at=timezone.now(), asked_by=clinician, flags=["neck_lump"])
    decide(as_clinician, person, what="accept_all")
    assert not person.targets.exists()
    assert "Targets cannot be set." in page_of(as_clinician, person)


def test_without_a_baseline_there_is_nothing_to_propose(as_clinician, person):
    assert "Targets are calculated from a baseline. There is no baseline yet." in page_of(
        as_clinician, person
    )
