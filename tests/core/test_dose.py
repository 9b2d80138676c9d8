"""Session time, dated slots, the calendar, and ladders."""

from datetime import UTC, date, datetime, time, timedelta
from itertools import pairwise
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st
from icalendar import Calendar

from reedcore.dose import Dose, DoseKind, SessionPart, due_slots, session_time
from reedcore.errors import ValueOutOfRange
from reedcore.formats.calendar import DatedProgramme, write_calendars
from reedcore.ladders import Ladder

MONDAY = date(2026, 11, 9)


def test_a_session_is_what_its_parts_take():
    straw = SessionPart(
        tries=3,
        target_s=8,
        is_voiced=True,
        setup_s=10,
        tone_s=2,
        breath_s=3,
        rest_s=5,
        has_sip_after=True,
    )
    release = SessionPart(tries=1, target_s=60, is_voiced=False, setup_s=10, breath_s=0, rest_s=5)
    time_ = session_time([release, straw])
    # 75 s, then 10 + 3 × 18 s and a drink of 15 s.
    assert time_.seconds == 75 + 64 + 15
    assert (time_.voiced_s, time_.tries, time_.starts_s) == (24.0, 4, (0.0, 75.0))


def test_slots_of_a_dose():
    dose = Dose(
        DoseKind.SLOTS, MONDAY, a_day=2, weekdays=(0, 2), weeks=2, off=(MONDAY + timedelta(7),)
    )
    slots = due_slots(dose)
    assert [(slot.day - MONDAY).days for slot in slots] == [0, 0, 2, 2, 9, 9]
    assert [slot.number for slot in slots] == [1, 2] * 3
    assert dose.end == MONDAY + timedelta(days=13)
    assert dose.rest_days == 5


@given(st.integers(1, 5))
def test_sessions_of_a_day_lie_at_least_three_hours_apart(a_day):
    times = Dose(DoseKind.SLOTS, MONDAY, a_day=a_day).day_times
    minutes = [at.hour * 60 + at.minute for at in times]
    gaps = [later - earlier for earlier, later in pairwise(minutes)]
    assert len(times) == a_day
    assert all(gap >= 180 for gap in gaps)


def test_a_task_on_demand_is_never_due():
    assert due_slots(Dose(DoseKind.ON_DEMAND, MONDAY)) == ()


@pytest.mark.parametrize(
    "wrong", [{"a_day": 0}, {"a_day": 9}, {"weekdays": ()}, {"weeks": 0}, {"weeks": 99}]
)
def test_a_dose_that_cannot_be_is_refused(wrong):
    with pytest.raises(ValueOutOfRange):
        Dose(DoseKind.SLOTS, MONDAY, **wrong)


def calendar(slots, sequence=1, dropped=()):
    block = DatedProgramme(tuple(slots), "client-7", "Voice practice", 18, tuple(dropped))
    data = write_calendars(
        [block], zone=ZoneInfo("Europe/Lisbon"), sequence=sequence,
        made_at=datetime(2026, 11, 9, tzinfo=UTC), words="Stop if it hurts.",
    )  # fmt: skip
    return Calendar.from_ical(data)


def test_events_are_in_the_clients_own_time_with_a_reminder():
    slots = due_slots(Dose(DoseKind.SLOTS, date(2026, 3, 23), a_day=1, weekdays=(0,), weeks=2))
    events = calendar(slots).walk("VEVENT")
    # The clocks change between the two; nine o'clock stays nine o'clock.
    assert [event.decoded("dtstart").time() for event in events] == [time(9), time(9)]
    assert [event.decoded("dtstart").utcoffset() for event in events] == [
        timedelta(0),
        timedelta(hours=1),
    ]
    assert all(
        event.walk("VALARM")[0].decoded("trigger") == timedelta(minutes=-15) for event in events
    )
    assert events[0].decoded("duration") == timedelta(minutes=18)


def test_a_new_version_updates_the_same_events_and_cancels_the_rest():
    old = due_slots(Dose(DoseKind.SLOTS, MONDAY, a_day=2, weekdays=(0,), weeks=1))
    new = due_slots(Dose(DoseKind.SLOTS, MONDAY, a_day=1, weekdays=(0,), weeks=1))
    first, second = calendar(old), calendar(new, sequence=2, dropped=old[1:])
    uids = [event["uid"] for event in first.walk("VEVENT")]
    assert [event["uid"] for event in second.walk("VEVENT")] == uids
    assert [event["status"] for event in second.walk("VEVENT")] == ["CONFIRMED", "CANCELLED"]
    assert {event.decoded("sequence") for event in second.walk("VEVENT")} == {2}
    assert len(set(uids)) == 2


LADDER = Ladder("hold", "Hold", "seconds", (5, 6, 8, 10), ("5 s", "6 s", "8 s", "10 s"))


@pytest.mark.parametrize(
    ("value", "by", "found"),
    [(6, 1, 8), (6, -1, 5), (10, 1, 10), (5, -1, 5), (7, 1, 8), (7, -1, 6), (3, 1, 5)],
)
def test_a_rung_up_and_down(value, by, found):
    assert LADDER.move(value, by=by) == found


def test_rungs_that_are_words():
    ladder = Ladder(
        "glide", "Glide", "glide", ("with flips", "no break"), ("with flips", "no break")
    )
    assert ladder.move("with flips", by=1) == "no break"
    assert ladder.place_of("no jump") is None


def test_a_ladder_without_rungs_is_refused():
    with pytest.raises(ValueOutOfRange):
        Ladder("x", "X", "x", (), ())


@pytest.mark.parametrize(
    ("asked", "facts"),
    [
        ({"a_day": 0}, {"what": "sessions a day", "value": 0, "lowest": 1, "highest": 5}),
        ({"a_day": 6}, {"what": "sessions a day", "value": 6, "lowest": 1, "highest": 5}),
        ({"weekdays": (7, 9)}, {"what": "days a week", "value": 0, "lowest": 1, "highest": 7}),
        ({"weeks": 53}, {"what": "weeks", "value": 53, "lowest": 1, "highest": 52}),
    ],
)
def test_a_dose_that_cannot_be_says_which_number_and_what_it_may_be(asked, facts):
    with pytest.raises(ValueOutOfRange) as refused:
        Dose(DoseKind.SLOTS, date(2026, 3, 2), **asked)
    assert refused.value.facts == facts


def test_the_least_and_the_most_of_a_dose_can_be():
    for edge in ({"a_day": 1}, {"a_day": 5}, {"weekdays": (6,)}, {"weeks": 52}):
        assert Dose(DoseKind.SLOTS, date(2026, 3, 2), **edge)


def test_slots_up_to_a_day_are_no_later_and_may_go_beyond_the_end():
    dose = Dose(DoseKind.SLOTS, date(2026, 3, 2), a_day=1, weekdays=(0,), weeks=2)
    assert [slot.day.day for slot in due_slots(dose)] == [2, 9]
    assert [slot.day.day for slot in due_slots(dose, until=date(2026, 3, 8))] == [2]
