"""Red flags, cautions and clearance, as a table a clinician can read."""

from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest

from reedcore.safety import (
    ASKABLE,
    SCREENED,
    TIERS,
    Block,
    Caution,
    Flag,
    Hazard,
    SafetyCase,
    Tier,
    avoids_water,
    clearance,
    forbidden_hazards,
    larynx_seen,
)
from reedcore.safety.cautions import FORBIDS
from reedcore.safety.stops import ASKED_AFTER, ASKED_BEFORE, consequence, escalated_at

DAY = date(2026, 11, 9)
WEEK = timedelta(days=7)


def test_every_flag_has_a_tier_and_every_caution_says_what_it_forbids():
    assert set(TIERS) == set(Flag)
    assert set(FORBIDS) == set(Caution)


def test_screening_asks_all_but_what_a_session_brings_about():
    assert set(ASKABLE) - set(SCREENED) == {Flag.LIGHT_HEADED, Flag.STRAIN}
    assert set(Flag) - set(ASKABLE) == {Flag.UNKNOWN_REASON}


def test_a_stop_whose_reason_cannot_be_read_is_as_urgent_as_the_worst():
    found = consequence([Flag.STRAIN, Flag.UNKNOWN_REASON])
    assert found.tier is Tier.EMERGENCY
    assert found.pauses_practice
    assert found.alerts_now


def test_streaks_of_blood_end_voicing_and_more_is_an_emergency():
    assert TIERS[Flag.BLOOD_STREAKS] is Tier.NO_MORE_VOICING
    assert TIERS[Flag.BLEEDING] is Tier.EMERGENCY


CASES = {
    "nothing on record": (SafetyCase(), ()),
    "a red flag": (SafetyCase(open_flags=frozenset({Flag.NECK_LUMP})), (Block.RED_FLAG,)),
    "changed 4 weeks ago, unseen": (SafetyCase(voice_changed_on=DAY - 4 * WEEK), ()),
    "changed 29 days ago, unseen": (
        SafetyCase(voice_changed_on=DAY - timedelta(days=29)),
        (Block.UNEXAMINED,),
    ),
    "the clinic's limit is 2 weeks": (
        SafetyCase(voice_changed_on=DAY - timedelta(days=15), limit_days=14),
        (Block.UNEXAMINED,),
    ),
    "seen after it changed": (
        SafetyCase(voice_changed_on=DAY - 9 * WEEK, examined_on=DAY - 2 * WEEK),
        (),
    ),
    "seen before it changed": (
        SafetyCase(voice_changed_on=DAY - 9 * WEEK, examined_on=DAY - 20 * WEEK),
        (Block.UNEXAMINED,),
    ),
    "the last day of voice rest": (SafetyCase(voice_rest_until=DAY), (Block.VOICE_REST,)),
    "the day after": (SafetyCase(voice_rest_until=DAY - timedelta(days=1)), ()),
    "surgery without the surgeon's date": (
        SafetyCase(cautions=frozenset({Caution.VOCAL_FOLD_SURGERY})),
        (Block.SURGERY_UNDATED,),
    ),
    "surgery with a date to come": (
        SafetyCase(cautions=frozenset({Caution.VOCAL_FOLD_SURGERY}), loud_from=DAY + WEEK),
        (),
    ),
    "a flag speaks before all else": (
        SafetyCase(open_flags=frozenset({Flag.BREATHING}), voice_rest_until=DAY),
        (Block.RED_FLAG, Block.VOICE_REST),
    ),
}


@pytest.mark.parametrize(("case", "blocks"), CASES.values(), ids=CASES.keys())
def test_clearance(case, blocks):
    assert clearance(case, on=DAY) == blocks


def forbidden(*cautions, **more):
    return {each.hazard for each in forbidden_hazards(cautions, on=DAY, **more)}


def test_no_loud_and_no_high_until_the_surgeons_date():
    healing = {
        Hazard.LOUD, Hazard.HIGH, Hazard.HARD_ONSET, Hazard.SWELL, Hazard.MAXIMAL_HOLD,
    }  # fmt: skip
    assert forbidden(Caution.VOCAL_FOLD_SURGERY) == healing
    later = DAY + timedelta(days=1)
    assert forbidden(Caution.VOCAL_FOLD_SURGERY, loud_from=later) == healing
    assert forbidden(Caution.VOCAL_FOLD_SURGERY, loud_from=DAY) == set()


def test_high_blood_pressure_forbids_emptying_the_lungs():
    assert forbidden(Caution.PRESSURE) == {
        Hazard.EMPTIES_LUNGS, Hazard.HARD_BLOW, Hazard.BREATH_HOLD, Hazard.BACK_PRESSURE,
        Hazard.LOUD,
    }  # fmt: skip


def test_a_say_so_allows_what_it_can_and_nothing_else():
    found = forbidden_hazards(
        {Caution.NECK_SURGERY, Caution.LUNG_DISEASE}, said_so=set(Caution), on=DAY
    )
    allowed = {each.hazard for each in found if each.is_allowed}
    assert allowed == {Hazard.LOUD, Hazard.HIGH}
    assert {each.hazard for each in found} - allowed == {
        Hazard.NECK, Hazard.BREATH_HOLD, Hazard.EMPTIES_LUNGS, Hazard.PANTING,
    }  # fmt: skip


def test_reflux_only_matters_after_a_meal():
    found = forbidden_hazards({Caution.REFLUX}, on=DAY)
    assert {each.hazard for each in found if each.is_after_meals} == {
        Hazard.LYING_FLAT, Hazard.HARD_BLOW,
    }  # fmt: skip


def test_each_reason_is_kept_where_two_forbid():
    found = forbidden_hazards({Caution.LUNG_DISEASE, Caution.FAINTING}, on=DAY)
    assert {(each.hazard, each.because) for each in found if each.hazard is Hazard.BREATH_HOLD} == {
        (Hazard.BREATH_HOLD, Caution.LUNG_DISEASE),
        (Hazard.BREATH_HOLD, Caution.FAINTING),
    }


SEEN = {
    "nobody has asked": (SafetyCase(), False),
    "no complaint": (SafetyCase(complaint=False), True),
    "a complaint, never examined": (SafetyCase(complaint=True), False),
    "examined": (SafetyCase(complaint=True, examined_on=DAY), True),
    "examined before the voice changed": (
        SafetyCase(complaint=True, examined_on=DAY, voice_changed_on=DAY + WEEK), False,
    ),
}  # fmt: skip


@pytest.mark.parametrize(("case", "seen"), SEEN.values(), ids=SEEN)
def test_the_larynx_is_seen_before_a_course_of_therapy(case, seen):
    assert larynx_seen(case) is seen


def test_only_a_risk_of_aspiration_takes_the_water_away():
    assert [each for each in Caution if avoids_water({each})] == [Caution.ASPIRATION]


#: Answer → (tier, ends the session, pauses the programme, alerts at once).
STOPS = {
    "noisy breathing": ([Flag.BREATHING], (Tier.EMERGENCY, True, True, True)),
    "pain": ([Flag.NEW_PAIN], (Tier.NO_MORE_VOICING, True, True, True)),
    "strain": ([Flag.STRAIN], (Tier.END_SESSION, True, False, False)),
    "light-headed once": ([Flag.LIGHT_HEADED], (Tier.END_SESSION, True, False, False)),
    "a lump": ([Flag.NECK_LUMP], (Tier.TELL_CLINICIAN, False, False, False)),
    "the most urgent counts": (
        [Flag.NECK_LUMP, Flag.STRAIN, Flag.CHOKING], (Tier.EMERGENCY, True, True, True),
    ),
}  # fmt: skip


@pytest.mark.parametrize(("said", "expected"), STOPS.values(), ids=STOPS)
def test_the_consequences_of_each_answer(said, expected):
    found = consequence(said)
    assert (found.tier, found.ends_session, found.pauses_practice, found.alerts_now) == expected


def test_light_headed_a_second_time_pauses_the_programme():
    assert not consequence([Flag.LIGHT_HEADED], light_headed_before=0).pauses_practice
    again = consequence([Flag.LIGHT_HEADED], light_headed_before=1)
    assert again.pauses_practice
    assert again.alerts_now


def test_no_answers_have_no_consequence():
    assert consequence([]) is None


def test_before_the_first_sound_breathing_swallowing_blood_and_pain_are_asked():
    assert set(ASKED_BEFORE) == {
        Flag.BREATHING, Flag.SWALLOWING, Flag.BLOOD_STREAKS, Flag.NEW_PAIN,
    }  # fmt: skip
    assert {TIERS[flag] for flag in ASKED_AFTER} == {Tier.TELL_CLINICIAN}


@pytest.mark.parametrize(
    ("said", "passed_on"),
    [
        ("2026-11-23T10:00", "2026-11-24T10:00"),  # Monday: a day later.
        ("2026-11-27T10:00", "2026-11-30T10:00"),  # Friday: Monday at the same time.
        ("2026-11-28T22:15", "2026-12-01T00:00"),  # At the weekend: Monday is the working day.
        ("2026-11-29T00:05", "2026-12-01T00:00"),
        ("2026-11-26T23:59", "2026-11-27T23:59"),
    ],
)
def test_an_unread_stop_is_passed_on_after_a_working_day(said, passed_on):
    lisbon = ZoneInfo("Europe/Lisbon")
    at, then = (datetime.fromisoformat(text).replace(tzinfo=lisbon) for text in (said, passed_on))
    assert escalated_at(at) == then
