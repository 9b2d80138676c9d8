"""What of a programme is done today, as the voice is."""

import pytest

from reedcore.dose.today import Day, Planned, SessionType, Turn, Voice, day_for, turns_today

NECK = Planned("neck", "release", loud=False)
STRAW = Planned("straw", "occluded", loud=False, short=True)
POWER = Planned("power", "block", loud=False)
AH = Planned("ah", "loud", loud=True, short=True)
DOWN = Planned("down", "cooldown", loud=False)
WHOLE = (NECK, POWER, STRAW, AH, DOWN)


def done(items=WHOLE, day=Day.USUAL, sort=SessionType.FULL):
    return [f"{turn.id}{'+' * turn.again}" for turn in turns_today(items, day=day, sort=sort)]


TABLE = {
    "the usual day is as written": ({}, ["neck", "power", "straw", "ah", "down"]),
    "a gentler day warms first and twice, and is never loud": (
        {"day": Day.GENTLER}, ["neck", "straw", "straw+", "power", "down"],
    ),
    "a rest day holds nothing": ({"day": Day.REST}, []),
    "not even a little extra": ({"day": Day.REST, "sort": SessionType.EXTRA}, []),
    "a short day is what is marked for it": ({"sort": SessionType.SHORT}, ["straw", "ah"]),
    "a short gentler day": ({"sort": SessionType.SHORT, "day": Day.GENTLER}, ["straw", "straw+"]),
    "nothing marked: the short day is the whole": (
        {"sort": SessionType.SHORT, "items": (NECK, DOWN)}, ["neck", "down"],
    ),
    "extra is the first warming": ({"sort": SessionType.EXTRA}, ["straw"]),
    "without warming, what is not loud": ({"sort": SessionType.EXTRA, "items": (AH, DOWN)}, ["down"]),
    "extra is never loud": ({"sort": SessionType.EXTRA, "items": (AH,)}, []),
}  # fmt: skip


@pytest.mark.parametrize(("given", "expected"), TABLE.values(), ids=TABLE)
def test_what_is_done(given, expected):
    assert done(**given) == expected


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
