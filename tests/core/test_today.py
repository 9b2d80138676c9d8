"""The tasks of a day, by the state of the voice."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from reedcore.dose.today import (
    Day,
    PlannedItem,
    SessionType,
    Turn,
    Voice,
    day_for,
    gentler_s,
    gentler_voiced_s,
    turns_today,
)

NECK = PlannedItem("neck", "release", is_loud=False)
STRAW = PlannedItem(
    "straw", "occluded", is_loud=False, is_short=True, voiced_s=40, is_in_seconds=True
)
POWER = PlannedItem("power", "block", is_loud=False, voiced_s=40, is_in_seconds=True)
AH = PlannedItem("ah", "loud", is_loud=True, is_short=True, voiced_s=60, is_in_seconds=True)
SIREN = PlannedItem("siren", "range", is_loud=False, is_high=True, voiced_s=30)
TALK = PlannedItem("talk", "onset", is_loud=False, voiced_s=100)
DOWN = PlannedItem("down", "cooldown", is_loud=False)
WHOLE = (NECK, POWER, STRAW, AH, DOWN)


def turn_names(items=WHOLE, day=Day.USUAL, sort=SessionType.FULL):
    return [f"{turn.id}{'+' * turn.is_repeat}" for turn in turns_today(items, day=day, sort=sort)]


TABLE = {
    "the usual day is as written": ({}, ["neck", "power", "straw", "ah", "down"]),
    "a gentler day warms first and twice, and is never loud": (
        {"day": Day.GENTLER}, ["neck", "straw", "straw+", "power", "down"],
    ),
    "nothing high on a gentler day": (
        {"day": Day.GENTLER, "items": (STRAW, SIREN, POWER)}, ["straw", "power"],
    ),
    "no second warming where nothing was left out": (
        {"day": Day.GENTLER, "items": (STRAW, POWER)}, ["straw", "power"],
    ),
    "what cannot be made shorter goes, the last first": (
        {"day": Day.GENTLER, "items": (STRAW, POWER, TALK)}, ["straw", "straw+", "power"],
    ),
    "only one warming item comes again": (
        {"day": Day.GENTLER, "items": (STRAW, replace(STRAW, id="hum"), replace(AH, voiced_s=400))},
        ["straw", "hum", "straw+"],
    ),
    "a rest day holds nothing": ({"day": Day.REST}, []),
    "not even a little extra": ({"day": Day.REST, "sort": SessionType.EXTRA}, []),
    "a short day is what is marked for it": ({"sort": SessionType.SHORT}, ["straw", "ah"]),
    "a short gentler day": ({"sort": SessionType.SHORT, "day": Day.GENTLER}, ["straw", "straw+"]),
    "a short day that is all loud is a warming item of the whole": (
        {"sort": SessionType.SHORT, "day": Day.GENTLER, "items": (replace(STRAW, is_short=False), AH)},
        ["straw"],
    ),
    "nothing marked: the short day is the whole": (
        {"sort": SessionType.SHORT, "items": (NECK, DOWN)}, ["neck", "down"],
    ),
    "extra is the first warming": ({"sort": SessionType.EXTRA}, ["straw"]),
    "without warming, what is not loud": ({"sort": SessionType.EXTRA, "items": (AH, DOWN)}, ["down"]),
    "extra is never loud": ({"sort": SessionType.EXTRA, "items": (AH,)}, []),
}  # fmt: skip


@pytest.mark.parametrize(("given", "expected"), TABLE.values(), ids=TABLE)
def test_the_tasks_done_today(given, expected):
    assert turn_names(**given) == expected


def test_an_item_keeps_its_identity():
    assert turns_today([STRAW], day=Day.USUAL) == (Turn("straw"),)


@pytest.mark.parametrize(
    ("voice", "allowed", "day"),
    [
        (Voice.AS_USUAL, {}, Day.USUAL),
        (Voice.TIRED, {}, Day.GENTLER),
        (Voice.TIRED, {Voice.TIRED: Day.USUAL}, Day.USUAL),
        (Voice.ILL, {}, Day.REST),
        (Voice.ILL, {Voice.ILL: Day.GENTLER}, Day.GENTLER),
        (Voice.HOARSE, {Voice.HOARSE: Day.USUAL}, Day.GENTLER),
        (Voice.ILL, {Voice.ILL: Day.USUAL}, Day.GENTLER),
    ],
)
def test_the_answer_picks_what_was_allowed_and_never_loud_work_for_the_hoarse(voice, allowed, day):
    assert day_for(voice, allowed) is day


@given(
    st.lists(
        st.builds(
            PlannedItem, st.uuids().map(str), st.sampled_from(["occluded", "breath", "block", "loud", "range"]),
            st.booleans(), st.booleans(), st.booleans(), st.floats(0, 300), st.booleans(),
        ), max_size=12,
    ), st.sampled_from([SessionType.FULL, SessionType.SHORT, SessionType.RESET]),
)  # fmt: skip
def test_a_gentler_day_is_never_more_than_four_fifths_of_the_usual_voice(items, sort):
    by_id = {item.id: item for item in items}

    def turns_on(day):
        return [by_id[turn.id] for turn in turns_today(items, day=day, sort=sort)]

    usual = sum(item.voiced_s for item in turns_on(Day.USUAL))
    gentler = turns_on(Day.GENTLER)
    assert sum(map(gentler_voiced_s, gentler)) <= 0.8 * usual + 1e-6
    assert not any(item.is_loud or item.is_high for item in gentler)
    again = [turn for turn in turns_today(items, day=Day.GENTLER, sort=sort) if turn.is_repeat]
    assert len(again) <= 1


@given(st.floats(0.5, 120))
def test_a_gentler_trial_is_never_more_than_four_fifths(seconds):
    assert gentler_s(seconds) <= max(0.5, 0.8 * seconds) + 1e-6
    assert (2 * gentler_s(seconds)).is_integer()
