"""The programme check: every rule fires where it should and is silent where it should be."""

from dataclasses import replace
from datetime import date

import pytest

from reedcore.baseline import PitchRange
from reedcore.checks import RULES, Finding, FixKind, Item, Level, Person, Plan, School, check
from reedcore.devices.breath_counts import BreathCount
from reedcore.dose import Dose, DoseKind, Part
from reedcore.pitch import Note
from reedcore.safety import Caution, Mark, forbidden_marks

DAY = date(2026, 11, 9)


def item(id="a", task="straw_hold", family="occluded", **more):
    part = more.pop("part", Part(tries=3, target_s=8.0, voiced=True))
    more.setdefault("reason", "because")
    return Item(id=id, task=task, family=family, part=part, **more)


def notes(*names):
    return tuple(Note.named(name) for name in names)


RELEASE = item("r", "sit_tall", "release", part=Part(1, 60, False), in_short=True)
LOUD = item(
    "l", "strong_ah", "loud", marks=frozenset({Mark.LOUD}), part=Part(4, 10, True, sip_after=True)
)
COOL = item("c", "descending_hum", "cooldown", part=Part(5, 8, True))
SOFT = item("s", "hum_hold", "occluded", ceiling_db=3.0)


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
    return forbidden_marks(cautions, on=DAY)


#: Rule → (plan and person in which it fires, level, item), (plan and person in which it must not).
CASES = {
    "caution_on_record": (
        (
            plan(item(marks=frozenset({Mark.BREATH_HOLD}))),
            person(forbidden=forbidden(Caution.PRESSURE)),
        ),
        (Level.STOP, "a"),
        (plan(item(marks=frozenset({Mark.LOUD}))), person(forbidden=forbidden(Caution.PRESSURE))),
    ),
    "outside_held_range": (
        (plan(item(notes=notes("E4"))), PERSON),
        (Level.STOP, "a"),
        (plan(item(notes=notes("C4"))), PERSON),
    ),
    "outside_comfortable_range": (
        (plan(item(notes=notes("C3", "C4"))), PERSON),
        (Level.WARN, "a"),
        (plan(item(notes=notes("A2", "A3"))), PERSON),
    ),
    "glide_too_far": (
        (plan(item(notes=notes("A2", "C4"), glides=True)), PERSON),
        (Level.WARN, "a"),
        (plan(item(notes=notes("G2", "B3"), glides=True)), PERSON),
    ),
    "prop_not_named": (
        (plan(item(needs_prop=True)), PERSON),
        (Level.WARN, "a"),
        (plan(item(needs_prop=True, props=("straw_6mm",))), PERSON),
    ),
    "prop_not_owned": (
        (plan(item(props=("balloon",))), PERSON),
        (Level.WARN, "a"),
        (plan(item(props=("straw_6mm",))), PERSON),
    ),
    "breath_hold_too_long": (
        (plan(item(held_breath_s=45)), PERSON),
        (Level.STOP, "a"),
        (plan(item(held_breath_s=45, meant=True)), PERSON),
    ),
    "panting_too_long": (
        (plan(item(pant_s=11)), PERSON),
        (Level.STOP, "a"),
        (plan(item(pant_s=10)), PERSON),
    ),
    "breath_too_slow": (
        (plan(item(breath=BreathCount(10, 10, 60), cycles=7)), PERSON),
        (Level.WARN, "a"),
        (plan(item(breath=BreathCount(10, 10, 60), cycles=7, meant=True)), PERSON),
    ),
    "over_best": (
        (plan(item(seconds=16, best_s=13)), PERSON),
        (Level.WARN, "a"),
        (plan(item(seconds=12, best_s=10)), PERSON),
    ),
    "step_too_large": (
        (plan(item(seconds=14, before_s=10)), PERSON),
        (Level.WARN, "a"),
        (plan(item(seconds=12, before_s=10)), PERSON),
    ),
    "floor_without_ceiling": (
        (plan(item(floor_db=6)), PERSON),
        (Level.STOP, "a"),
        (plan(item(floor_db=6, ceiling_db=16)), PERSON),
    ),
    "ceiling_too_high": (
        (plan(item(floor_db=6, ceiling_db=17)), PERSON),
        (Level.STOP, "a"),
        (plan(item(floor_db=6, ceiling_db=16)), PERSON),
    ),
    "loud_and_soft_at_once": (
        (plan(replace(LOUD, ceiling_db=3.0)), PERSON),
        (Level.STOP, "l"),
        (plan(replace(LOUD, floor_db=6.0, ceiling_db=16.0)), PERSON),
    ),
    "no_reason": (
        (plan(item(reason=" ")), PERSON),
        (Level.HINT, "a"),
        (plan(item(reason="even bubbles")), PERSON),
    ),
    "loud_without_warming": (
        (plan(LOUD, COOL), PERSON),
        (Level.WARN, "l"),
        (plan(RELEASE, LOUD, COOL), PERSON),
    ),
    "loud_without_cooling": (
        (plan(RELEASE, LOUD), PERSON),
        (Level.WARN, "l"),
        (plan(RELEASE, LOUD, COOL), PERSON),
    ),
    "soft_after_loud": (
        (plan(RELEASE, LOUD, SOFT, COOL), PERSON),
        (Level.WARN, "s"),
        (plan(RELEASE, SOFT, LOUD, COOL), PERSON),
    ),
    "cooldown_not_last": (
        (plan(COOL, SOFT), PERSON),
        (Level.HINT, "c"),
        (plan(SOFT, COOL), PERSON),
    ),
    "no_sip": (
        (plan(RELEASE, replace(LOUD, part=Part(4, 10, True)), COOL), PERSON),
        (Level.HINT, "l"),
        (plan(RELEASE, LOUD, COOL), PERSON),
    ),
    "session_over_cap": (
        (plan(item(part=Part(1, 46 * 60, False))), PERSON),
        (Level.STOP, None),
        (plan(item(part=Part(1, 44 * 60, False))), PERSON),
    ),
    "session_unusual": (
        (plan(item(part=Part(1, 5 * 60, False))), PERSON),
        (Level.HINT, None),
        (plan(item(part=Part(1, 20 * 60, False))), PERSON),
    ),
    "no_rest_day": (
        (plan(SOFT, dose={"weekdays": tuple(range(7))}), PERSON),
        (Level.WARN, None),
        (plan(SOFT, dose={"weekdays": tuple(range(7))}, daily_for_life=True), PERSON),
    ),
    "too_much_voice_a_day": (
        (plan(item(part=Part(11, 60, True))), PERSON),
        (Level.WARN, None),
        (plan(item(part=Part(9, 60, True))), PERSON),
    ),
    "no_short_day": (
        (plan(SOFT), PERSON),
        (Level.HINT, None),
        (plan(replace(SOFT, in_short=True)), PERSON),
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


def test_what_the_soft_school_demands_the_loud_one_only_likes():
    found = {each.code: each.level for each in check(plan(LOUD, school=School.LOUD), PERSON)}
    assert found["loud_without_warming"] is Level.HINT
    assert found["loud_without_cooling"] is Level.HINT
    chain = item("n", "nasal_chain", "loud", marks=frozenset({Mark.LOUD}))
    assert "loud_without_warming" not in codes(check(plan(chain, LOUD, school=School.LOUD), PERSON))


def test_a_wide_straw_is_no_back_pressure_and_a_narrow_one_is():
    guarded = person(forbidden=forbidden(Caution.PRESSURE))
    straw = item(marks=frozenset({Mark.BACK_PRESSURE}), pressure_cmh2o=0.4)
    assert "caution_on_record" not in codes(check(plan(straw), guarded))
    assert "caution_on_record" in codes(check(plan(replace(straw, pressure_cmh2o=11.0)), guarded))


def test_no_glide_past_comfortable_after_surgery():
    past = plan(item(notes=notes("A2", "B3"), glides=True))
    assert "glide_too_far" not in codes(check(past, PERSON))
    assert "glide_too_far" in codes(check(past, person(after_surgery=True)))


def test_a_hiss_may_step_as_it_likes():
    hiss = item(task="steady_hiss", family="breath", seconds=25, best_s=14.0, before_s=15.0)
    assert not {"over_best", "step_too_large"} & codes(check(plan(hiss), PERSON))


def test_a_breath_of_90_seconds_is_never_allowed_even_when_meant():
    assert "breath_hold_too_long" in codes(check(plan(item(held_breath_s=91, meant=True)), PERSON))


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
    assert [(f.level, f.item) for f in found[:2]] == [(Level.STOP, "y"), (Level.STOP, "z")]
    assert [f.level for f in found] == sorted(
        (f.level for f in found), key=["stop", "warn", "hint"].index
    )
    assert all(isinstance(f, Finding) for f in found)


def test_without_a_baseline_nothing_is_said_about_range():
    found = check(plan(item(notes=notes("C6"))), Person())
    assert not {"outside_held_range", "outside_comfortable_range"} & codes(found)
