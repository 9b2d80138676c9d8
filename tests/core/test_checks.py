"""The programme check: every rule fires in its case and is silent in the other."""

from dataclasses import replace
from datetime import date

import pytest

from reedcore.baseline import PitchRange
from reedcore.checks import (
    RULES,
    CheckedItem,
    Finding,
    FixKind,
    Person,
    Plan,
    ProgrammeType,
    School,
    Severity,
    check,
    hazards_of,
)
from reedcore.devices.breath_counts import BreathCount
from reedcore.dose import Dose, DoseKind, SessionPart
from reedcore.pitch import Note
from reedcore.safety import Caution, Hazard, forbidden_hazards

DAY = date(2026, 11, 9)


def item(id="a", task="straw_hold", family="occluded", **more):
    part = more.pop("part", SessionPart(tries=3, target_s=8.0, is_voiced=True))
    more.setdefault("reason", "because")
    return CheckedItem(id=id, task=task, family=family, part=part, **more)


def notes(*names):
    return tuple(Note.named(name) for name in names)


RELEASE = item("r", "jaw_circles", "release", part=SessionPart(1, 60, False), is_in_short_day=True)
LOUD = item(
    "l",
    "strong_ah",
    "loud",
    hazards=frozenset({Hazard.LOUD}),
    part=SessionPart(4, 10, True, has_sip_after=True),
)
COOL = item("c", "descending_hum", "cooldown", part=SessionPart(5, 8, True))
SOFT = item("s", "hum_hold", "occluded", ceiling_db=3.0)
TONED = SessionPart(tries=3, target_s=8.0, is_voiced=True, tone_s=2.0)
#: Ten minutes of strong voice a day, in two sessions.
LOUD_MINUTES = replace(
    LOUD, part=SessionPart(1, 300.0, True, breath_s=0, rest_s=0, has_sip_after=True)
)


def plan(*items, **more):
    dose = Dose(DoseKind.SLOTS, DAY, **more.pop("dose", {}))
    return Plan(tuple(items), dose, **more)


PERSON = Person(
    comfortable=PitchRange(110.0, 220.0),
    held=PitchRange(98.0, 262.0),
    props=frozenset({"straw_6mm"}),
)


def person(**changes):
    return replace(PERSON, **changes)


def forbidden(*cautions):
    return forbidden_hazards(cautions, on=DAY)


def person_with(*cautions, **more):
    return person(cautions=frozenset(cautions), forbidden=forbidden(*cautions), **more)


#: Rule → (plan and person in which it fires, level, item), (plan and person in which it must not).
CASES = {
    "caution_on_record": (
        (
            plan(item(hazards=frozenset({Hazard.BREATH_HOLD}))),
            person(forbidden=forbidden(Caution.PRESSURE)),
        ),
        (Severity.STOP, "a"),
        (
            plan(item(hazards=frozenset({Hazard.LOUD}))),
            person(forbidden=forbidden(Caution.LUNG_DISEASE)),
        ),
    ),
    "cautions_not_asked": (
        (plan(SOFT), person(cautions_not_asked=frozenset({Caution.PREGNANCY}))),
        (Severity.WARN, None),
        (plan(SOFT), PERSON),
    ),
    "no_grown_up": (
        (plan(SOFT), person_with(Caution.CHILD)),
        (Severity.STOP, None),
        (plan(SOFT), person_with(Caution.CHILD, has_adult_helper=True)),
    ),
    "not_screened": (
        (plan(SOFT), person(is_screened=False)),
        (Severity.STOP, None),
        (plan(SOFT), PERSON),
    ),
    "larynx_not_seen": (
        (plan(SOFT), person(has_larynx_exam=False)),
        (Severity.STOP, None),
        (plan(SOFT), PERSON),
    ),
    "over_lung_share": (
        (plan(item(seconds=9, best_s=11)), person_with(Caution.LUNG_DISEASE)),
        (Severity.STOP, "a"),
        (plan(item(seconds=8, best_s=10)), person_with(Caution.LUNG_DISEASE)),
    ),
    "lung_best_unknown": (
        (plan(item(seconds=6)), person_with(Caution.LUNG_DISEASE)),
        (Severity.STOP, "a"),
        (plan(item(seconds=5)), person_with(Caution.LUNG_DISEASE)),
    ),
    "breath_too_fast": (
        (plan(item(breath=BreathCount(1, 1, 60), cycles=16)), PERSON),
        (Severity.STOP, "a"),
        (plan(item(breath=BreathCount(1, 1, 60), cycles=15)), PERSON),
    ),
    "cue_not_seen": (
        (plan(item(has_cue_off=True)), person_with(Caution.HEARING)),
        (Severity.WARN, "a"),
        (plan(item(has_cue_off=True)), PERSON),
    ),
    "tone_too_high": (
        (plan(item(notes=notes("C6"), part=TONED)), person_with(Caution.HEARING)),
        (Severity.WARN, "a"),
        (plan(item(notes=notes("B5"), part=TONED)), person_with(Caution.HEARING)),
    ),
    "pressure_step_too_large": (
        (plan(item(pressure_cmh2o=7.1, before_cmh2o=5.9)), PERSON),
        (Severity.WARN, "a"),
        (plan(item(pressure_cmh2o=7.0, before_cmh2o=5.9)), PERSON),
    ),
    "loud_step_too_large": (
        (plan(LOUD_MINUTES, before_loud_s=499.0), PERSON),
        (Severity.WARN, None),
        (plan(LOUD_MINUTES, before_loud_s=500.0), PERSON),
    ),
    "event_full_effort": (
        (plan(LOUD, sort=ProgrammeType.EVENT), PERSON),
        (Severity.WARN, "l"),
        (plan(SOFT, sort=ProgrammeType.EVENT), PERSON),
    ),
    "loud_without_level": (
        (plan(LOUD), PERSON),
        (Severity.WARN, "l"),
        (plan(replace(LOUD, ceiling_db=20.0)), PERSON),
    ),
    "outside_held_range": (
        (plan(item(notes=notes("E4"))), PERSON),
        (Severity.STOP, "a"),
        (plan(item(notes=notes("C4"))), PERSON),
    ),
    "outside_comfortable_range": (
        (plan(item(notes=notes("C3", "C4"))), PERSON),
        (Severity.WARN, "a"),
        (plan(item(notes=notes("A2", "A3"))), PERSON),
    ),
    "glide_too_far": (
        (plan(item(notes=notes("A2", "C4"), glides=True)), PERSON),
        (Severity.WARN, "a"),
        (plan(item(notes=notes("G2", "B3"), glides=True)), PERSON),
    ),
    "prop_not_named": (
        (plan(item(needs_prop=True)), PERSON),
        (Severity.WARN, "a"),
        (plan(item(needs_prop=True, props=("straw_6mm",))), PERSON),
    ),
    "prop_not_owned": (
        (plan(item(props=("balloon",))), PERSON),
        (Severity.WARN, "a"),
        (plan(item(props=("straw_6mm",))), PERSON),
    ),
    "breath_hold_too_long": (
        (plan(item(held_breath_s=45)), PERSON),
        (Severity.STOP, "a"),
        (plan(item(held_breath_s=45, is_intended=True)), PERSON),
    ),
    "panting_too_long": (
        (plan(item(pant_s=11)), PERSON),
        (Severity.STOP, "a"),
        (plan(item(pant_s=10)), PERSON),
    ),
    "breath_too_slow": (
        (plan(item(breath=BreathCount(10, 10, 60), cycles=7)), PERSON),
        (Severity.WARN, "a"),
        (plan(item(breath=BreathCount(10, 10, 60), cycles=7, is_intended=True)), PERSON),
    ),
    "over_best": (
        (plan(item(seconds=16, best_s=13)), PERSON),
        (Severity.WARN, "a"),
        (plan(item(seconds=12, best_s=10)), PERSON),
    ),
    "step_too_large": (
        (plan(item(seconds=14, before_s=10)), PERSON),
        (Severity.WARN, "a"),
        (plan(item(seconds=12, before_s=10)), PERSON),
    ),
    "floor_without_ceiling": (
        (plan(item(floor_db=6)), PERSON),
        (Severity.STOP, "a"),
        (plan(item(floor_db=6, ceiling_db=16)), PERSON),
    ),
    "ceiling_too_high": (
        (plan(item(floor_db=6, ceiling_db=17)), PERSON),
        (Severity.STOP, "a"),
        (plan(item(floor_db=6, ceiling_db=16)), PERSON),
    ),
    "loud_and_soft_at_once": (
        (plan(replace(LOUD, ceiling_db=3.0)), PERSON),
        (Severity.STOP, "l"),
        (plan(replace(LOUD, floor_db=6.0, ceiling_db=16.0)), PERSON),
    ),
    "no_reason": (
        (plan(item(reason=" ")), PERSON),
        (Severity.HINT, "a"),
        (plan(item(reason="even bubbles")), PERSON),
    ),
    "loud_without_warming": (
        (plan(LOUD, COOL), PERSON),
        (Severity.WARN, "l"),
        (plan(RELEASE, LOUD, COOL), PERSON),
    ),
    "loud_without_cooling": (
        (plan(RELEASE, LOUD), PERSON),
        (Severity.WARN, "l"),
        (plan(RELEASE, LOUD, COOL), PERSON),
    ),
    "soft_after_loud": (
        (plan(RELEASE, LOUD, SOFT, COOL), PERSON),
        (Severity.WARN, "s"),
        (plan(RELEASE, SOFT, LOUD, COOL), PERSON),
    ),
    "cooldown_not_last": (
        (plan(COOL, SOFT), PERSON),
        (Severity.HINT, "c"),
        (plan(SOFT, COOL), PERSON),
    ),
    "no_start_note": (
        (plan(RELEASE, replace(SOFT, lacks_start=True)), PERSON),
        (Severity.HINT, SOFT.id),
        (plan(RELEASE, SOFT), PERSON),
    ),
    "no_sip": (
        (plan(RELEASE, replace(LOUD, part=SessionPart(4, 10, True)), COOL), PERSON),
        (Severity.HINT, "l"),
        (plan(RELEASE, LOUD, COOL), PERSON),
    ),
    "session_over_cap": (
        (plan(item(part=SessionPart(1, 46 * 60, False))), PERSON),
        (Severity.STOP, None),
        (plan(item(part=SessionPart(1, 44 * 60, False))), PERSON),
    ),
    "session_unusual": (
        (plan(item(part=SessionPart(1, 5 * 60, False))), PERSON),
        (Severity.HINT, None),
        (plan(item(part=SessionPart(1, 15 * 60, False))), PERSON),
    ),
    "no_rest_day": (
        (plan(SOFT, dose={"weekdays": tuple(range(7))}), PERSON),
        (Severity.WARN, None),
        (plan(SOFT, dose={"weekdays": tuple(range(7))}, daily_for_life=True), PERSON),
    ),
    "too_much_voice_a_day": (
        (plan(item(part=SessionPart(11, 60, True))), PERSON),
        (Severity.WARN, None),
        (plan(item(part=SessionPart(9, 60, True))), PERSON),
    ),
    "no_short_day": (
        (plan(SOFT), PERSON),
        (Severity.HINT, None),
        (plan(replace(SOFT, is_in_short_day=True)), PERSON),
    ),
}


def test_every_rule_has_its_case():
    assert set(CASES) == set(RULES)


def codes(found):
    return {finding.code for finding in found}


@pytest.mark.parametrize("code", CASES)
def test_a_rule_fires_and_a_rule_is_silent(code):
    fires, (level, where), silent = CASES[code]
    (finding, *_) = [each for each in check(*fires) if each.code == code]
    assert (finding.level, finding.item) == (level, where)
    assert code not in codes(check(*silent))


def test_rules_of_the_soft_approach_are_advice_in_the_loud_one():
    found = {each.code: each.level for each in check(plan(LOUD, school=School.LOUD), PERSON)}
    assert found["loud_without_warming"] is Severity.HINT
    assert found["loud_without_cooling"] is Severity.HINT
    chain = item("n", "nasal_chain", "loud", hazards=frozenset({Hazard.LOUD}))
    assert "loud_without_warming" not in codes(check(plan(chain, LOUD, school=School.LOUD), PERSON))


def test_sitting_tall_is_no_warm_up_and_a_silent_straw_is_none():
    seated = replace(RELEASE, task="sit_tall")
    silent = item("q", part=SessionPart(3, 8.0, is_voiced=False))
    for before in (seated, silent):
        assert "loud_without_warming" in codes(check(plan(before, LOUD, COOL), PERSON))


def test_a_power_note_without_a_ceiling_is_soft_work_and_no_cool_down():
    power = item("p", "block_power", "block")
    found = codes(check(plan(RELEASE, LOUD, power), PERSON))
    assert {"soft_after_loud", "loud_without_cooling"} <= found


def test_sessions_of_each_kind_have_their_own_usual_length():
    for sort, school, usual_s, odd_s in (
        (ProgrammeType.FULL, School.SOFT, 12 * 60, 25 * 60),
        (ProgrammeType.FULL, School.LOUD, 25 * 60, 12 * 60),
        (ProgrammeType.RESET, School.SOFT, 25, 120),
        (ProgrammeType.EVENT, School.MIXED, 15 * 60, 5 * 60),
    ):
        for seconds, odd in ((usual_s, False), (odd_s, True)):
            part = SessionPart(1, seconds, False, setup_s=0, breath_s=0, rest_s=0)
            found = codes(check(plan(item(part=part), sort=sort, school=school), PERSON))
            assert ("session_unusual" in found) is odd, (sort, seconds)


def test_a_hold_over_half_as_much_again_as_the_best_stops():
    (finding,) = [
        each
        for each in check(plan(item(seconds=16, best_s=10)), PERSON)
        if each.code == "over_best"
    ]
    assert finding.level is Severity.STOP


CEILINGS = {
    "comfortable plus 20 dB, where no device is calibrated": (item(ceiling_db=20.5), PERSON, 20.0),
    "95 dB SPL at 30 cm, where one is": (
        item(ceiling_db=18.0), person(comfortable_db_spl=78.0), 17.0,
    ),
    "under a floor that goes with it": (item(floor_db=12.0, ceiling_db=21.0), PERSON, 20.0),
}  # fmt: skip


@pytest.mark.parametrize(("asked", "who", "most"), CEILINGS.values(), ids=CEILINGS)
def test_every_ceiling_has_an_upper_limit(asked, who, most):
    (finding,) = [each for each in check(plan(asked), who) if each.code == "ceiling_too_high"]
    assert (finding.level, finding.fix.value) == (Severity.STOP, most)
    lower = replace(asked, ceiling_db=most)
    assert "ceiling_too_high" not in codes(check(plan(lower), who))


def test_the_ceiling_of_a_high_floor_stays_under_the_limit():
    (finding,) = [
        each for each in check(plan(item(floor_db=15.0)), PERSON)
        if each.code == "floor_without_ceiling"
    ]  # fmt: skip
    assert finding.fix.value == 20.0


def test_every_caution_of_a_task_is_a_finding_of_its_own():
    balloon = item(hazards=frozenset({Hazard.HARD_BLOW, Hazard.EMPTIES_LUNGS, Hazard.LATEX}))
    who = person_with(Caution.PRESSURE_ACUTE, Caution.LUNG_DISEASE, Caution.LATEX, Caution.TREMOR)
    found = {each.about: each for each in check(plan(balloon), who) if each.about}
    assert set(found) == {"pressure_acute", "lung_disease", "latex"}
    assert set(found["pressure_acute"].facts["hazards"]) == {Hazard.EMPTIES_LUNGS, Hazard.HARD_BLOW}
    assert found["lung_disease"].facts["hazards"] == (Hazard.EMPTIES_LUNGS,)


def test_a_hazard_allowed_by_the_clinician_is_a_warning():
    blow = item(hazards=frozenset({Hazard.HARD_BLOW}))
    said_so = person(
        forbidden=forbidden_hazards({Caution.PRESSURE}, said_so={Caution.PRESSURE}, on=DAY)
    )
    (finding,) = [each for each in check(plan(blow), said_so) if each.about]
    assert (finding.level, finding.code) == (Severity.WARN, "caution_allowed")
    acute = {Caution.PRESSURE_ACUTE}
    (each, *_) = forbidden_hazards(acute, said_so=acute, on=DAY)
    assert not each.is_allowed  # No permission lifts that one.


MARKED = {
    "a narrow straw": (item(pressure_cmh2o=11.0), PERSON, Hazard.BACK_PRESSURE, True),
    "a wide straw": (
        item(hazards=frozenset({Hazard.BACK_PRESSURE}), pressure_cmh2o=0.4), PERSON, Hazard.BACK_PRESSURE, False,
    ),
    "no bore is known": (item(hazards=frozenset({Hazard.BACK_PRESSURE})), PERSON, Hazard.BACK_PRESSURE, True),
    "over 80 % of the best": (item(seconds=8.5, best_s=10.0), PERSON, Hazard.EMPTIES_LUNGS, True),
    "80 % of the best": (
        item(hazards=frozenset({Hazard.EMPTIES_LUNGS}), seconds=8.0, best_s=10.0), PERSON, Hazard.EMPTIES_LUNGS, False,
    ),
    "no best is known": (
        item(hazards=frozenset({Hazard.EMPTIES_LUNGS}), seconds=3.0), PERSON, Hazard.EMPTIES_LUNGS, True,
    ),
    "to the end of the air, however short": (
        item(all_the_air=True, seconds=2.0, best_s=20.0), PERSON, Hazard.EMPTIES_LUNGS, True,
    ),
    "an out-breath over eight seconds": (item(longest_out_s=8.5), PERSON, Hazard.LONG_BREATH, True),
    "an out-breath of eight seconds": (
        item(hazards=frozenset({Hazard.LONG_BREATH}), longest_out_s=8.0), PERSON, Hazard.LONG_BREATH, False,
    ),
    "above the comfortable range": (item(notes=notes("C4")), PERSON, Hazard.HIGH, True),
    "up to its top": (item(hazards=frozenset({Hazard.HIGH}), notes=notes("A3")), PERSON, Hazard.HIGH, False),
    "a scale that goes above it": (
        item(notes=notes("A3"), reach=notes("A3", "E4")), PERSON, Hazard.HIGH, True,
    ),
    "no range is known": (
        item(hazards=frozenset({Hazard.HIGH}), notes=notes("C3")), Person(), Hazard.HIGH, True,
    ),
    "a floor over the comfortable voice": (item(floor_db=5.0), PERSON, Hazard.LOUD, True),
    "a tube that may be of glass": (item(props=("tube",)), PERSON, Hazard.GLASS, True),
    "a soft tube": (item(props=("tube",)), person(props=frozenset({"tube_soft"})), Hazard.GLASS, False),
}  # fmt: skip


@pytest.mark.parametrize(("asked", "who", "hazard", "marked"), MARKED.values(), ids=MARKED)
def test_the_prescribed_values_decide_over_the_possible_ones(asked, who, hazard, marked):
    assert (hazard in hazards_of(asked, who)) is marked


def test_a_soft_tube_is_a_tube_and_a_client_with_unknown_props_is_assumed_to_have_them():
    needs = plan(item(props=("tube",)))
    assert "prop_not_owned" not in codes(check(needs, person(props=frozenset({"tube_soft"}))))
    assert "prop_not_owned" not in codes(check(needs, person(props=None)))
    assert "prop_not_owned" in codes(check(needs, PERSON))


def test_a_pattern_is_judged_by_its_highest_note():
    scale = plan(item(notes=notes("A3"), reach=notes("A3", "E4")))
    assert "outside_held_range" in codes(check(scale, PERSON))


def test_no_glide_past_comfortable_after_surgery():
    past = plan(item(notes=notes("A2", "B3"), glides=True))
    assert "glide_too_far" not in codes(check(past, PERSON))
    assert "glide_too_far" in codes(check(past, person_with(Caution.VOCAL_FOLD_SURGERY)))


def test_a_hiss_may_step_as_it_likes_within_what_the_client_can():
    hiss = item(task="steady_hiss", family="breath", seconds=25, best_s=21.0, before_s=15.0)
    assert not {"over_best", "step_too_large"} & codes(check(plan(hiss), PERSON))
    assert "over_best" in codes(check(plan(replace(hiss, best_s=14.0)), PERSON))


def test_a_breath_of_90_seconds_is_never_allowed_even_when_meant():
    assert "breath_hold_too_long" in codes(
        check(plan(item(held_breath_s=91, is_intended=True)), PERSON)
    )


FIXED = {
    "seconds to the rung under 120 % of the best": ("over_best", FixKind.SET_SECONDS, 14.0),
    "notes as a block into the comfortable range": (
        "outside_held_range",
        FixKind.SET_NOTES,
        notes("A3"),
    ),
    "a ceiling ten decibels over the floor": ("floor_without_ceiling", FixKind.SET_CEILING, 16.0),
}


@pytest.mark.parametrize(("code", "kind", "value"), FIXED.values(), ids=FIXED.keys())
def test_a_fix_says_what_it_would_set(code, kind, value):
    cases = {
        "over_best": plan(item(seconds=16, best_s=12.5)),
        "outside_held_range": CASES["outside_held_range"][0][0],
    }
    checked = cases.get(code, CASES[code][0][0])
    (finding,) = [each for each in check(checked, PERSON) if each.code == code]
    assert (finding.fix.kind, finding.fix.value) == (kind, value)


def test_the_most_serious_comes_first_then_the_order_of_the_session():
    found = check(
        plan(item("x", reason=""), item("y", pant_s=20), item("z", held_breath_s=40)), PERSON
    )
    assert [(f.level, f.item) for f in found[:2]] == [(Severity.STOP, "y"), (Severity.STOP, "z")]
    assert [f.level for f in found] == sorted(
        (f.level for f in found), key=["stop", "warn", "hint"].index
    )
    assert all(isinstance(f, Finding) for f in found)


def test_without_a_baseline_there_is_no_finding_about_range():
    found = check(plan(item(notes=notes("C6"))), Person())
    assert not {"outside_held_range", "outside_comfortable_range"} & codes(found)
