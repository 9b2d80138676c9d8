"""Sessions due and their results, the fortnight, the dose of a week."""

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from uuid import UUID

import pytest

from reedcore.history import History
from reedcore.history.dose import week_dose
from reedcore.history.dues import (
    adherence_14,
    due_days,
    has_practised_on,
    missed_days,
    missed_in_a_row,
    slots_between,
)
from reedcore.history.fortnight import fortnight
from reedcore.programme.lines import lines_of
from tests.core.histories import (
    DOSE,
    TODAY,
    at,
    day,
    history,
    prescribed_item,
    session,
    stop,
    trial,
    version,
)


def test_a_day_is_due_from_the_version_in_force_on_it_up_to_yesterday():
    two = {**DOSE, "a_day": 2}
    found = due_days(history(versions=(version(back=5), version(2, back=2, dose=two))), TODAY)
    assert found == {day(5): 1, day(4): 1, day(3): 1, day(2): 2, day(1): 2}


def test_on_demand_and_withdrawn_versions_ask_for_nothing():
    demand = {**DOSE, "kind": "on_demand"}
    assert due_days(history(versions=(version(back=5, dose=demand),)), TODAY) == {}
    gone = replace(version(back=5), is_withdrawn=True)
    assert due_days(history(versions=(gone,)), TODAY) == {}


@pytest.mark.parametrize(
    ("stops", "excused"),
    [
        ((stop(4, cleared=2),), {4, 3, 2}),
        ((stop(3),), {3, 2, 1}),
        ((stop(3, pauses=False),), set()),
        ((replace(stop(3, cleared=3), cancelled_at=at(3)),), set()),
    ],
    ids=["cleared", "open", "pauses nothing", "pressed by mistake"],
)
def test_paused_days_are_excused(stops, excused):
    found = due_days(history(versions=(version(back=5),), stops=stops), TODAY)
    assert {back for back in range(1, 6) if day(back) not in found} == excused


@pytest.mark.parametrize(
    ("sessions", "share"),
    [
        ([session(back) for back in range(1, 15)], 1.0),
        ([session(back) for back in range(1, 8)], 0.5),
        ([session(1, ending="left", done=1, planned=4)], 0.25 / 14),
        ([session(1, ending="left", planned=0)], 0.0),
        ([session(1, kind="rest"), session(2)], 1 / 13),
        ([session(1, sort="extra")], 0.0),
        ([session(1), session(1, sort="short")], 1 / 14),
        ([session(15)], 0.0),  # The day before the fortnight.
        ([session(0)], 0.0),  # Today is not over yet.
    ],
    ids=["all", "half", "a part", "nothing planned", "a rest day", "beyond it", "two for one",
         "too old", "today"],
)  # fmt: skip
def test_adherence_of_the_fortnight(sessions, share):
    found = adherence_14(history(versions=(version(),), sessions=tuple(sessions)), TODAY)
    assert found == pytest.approx(share)


def test_adherence_is_not_known_where_nothing_was_due():
    assert adherence_14(history(), TODAY) is None
    due, slots = slots_between(history(versions=(version(back=3),)), day(2), TODAY)
    assert (due, len(slots)) == (2, 2)


def test_missed_days_are_counted_back_to_the_last_practised_one():
    found = history(versions=(version(),), sessions=(session(5), session(3, sort="extra")))
    assert missed_in_a_row(found, TODAY, asked_on=None) == 4
    assert missed_in_a_row(found, TODAY, asked_on=day(3)) == 2
    assert missed_days(found, day(7), TODAY) == [day(7), day(6), *map(day, range(4, 0, -1))]
    assert has_practised_on(found, day(5))
    assert not has_practised_on(found, day(3))
    alone = replace(trial(2), session=None)
    assert missed_in_a_row(replace(found, trials=(alone,)), TODAY, asked_on=None) == 1


# The fortnight.


def test_the_fortnight_draws_the_longest_of_each_session_and_what_was_missed():
    made = history(
        versions=(version(),),
        sessions=(session(3), session(0)),
        trials=(trial(3, held=7.0), trial(3, held=9.5, minute=1), trial(0, "not_met", 4.0)),
    )
    drawn = fortnight(made, None, today=TODAY)
    assert (drawn.first, len(drawn.days), drawn.target_s) == (day(13), 14, 8.0)
    assert [reed.s for reed in drawn.days[10].reeds] == [9.5]
    assert [place for place, each in enumerate(drawn.days) if not each.missed] == [10, 13]
    assert (drawn.judged, drawn.met, drawn.last) == (3, 2, TODAY)
    assert drawn.adherence == pytest.approx(1 / 14)
    assert fortnight(history(), None, today=date(2026, 1, 1)).programme is False


def test_the_dose_of_a_week_is_what_was_held_up_to_each_target():
    found = week_dose(
        history(
            versions=(version(),),
            trials=(
                trial(1, held=9.0), trial(1, "not_met", 4.0, minute=1), trial(7, held=8.0),
                trial(8, held=8.0), trial(0, held=8.0), replace(trial(2), role="poor"),
            ),
        ),
        TODAY,
    )  # fmt: skip
    assert found.prescribed_s == 7 * 4 * 8.0
    assert found.held_s == 20.0
    assert found.received == pytest.approx((8.0 + 4.0 + 8.0) / (7 * 4 * 8.0))
    assert week_dose(history(), TODAY).received is None


def _reset(key, **more):
    """Return an item of a programme beside the main one, done on a trigger."""
    made = prescribed_item(key, seconds=5.0, item_id="b", **more)
    return replace(made, item=replace(made.item, strand="s1"))


def test_full_adherence_is_100_percent_and_resets_are_never_due():
    demand = {**DOSE, "kind": "on_demand"}
    document = {"dose": DOSE, "beside": {"s1": {"sort": "reset", "dose": demand}}}
    line = prescribed_item(9, code="functional_phrases", note=None, seconds=None, item_id="c")
    main = prescribed_item(tries=2)
    both = version(tasks=(main, line, _reset(8)), **document)
    said = len(lines_of(line.setting, line.shipped))
    done = [
        *(trial(back, held=8.4, minute=at) for back in range(1, 8) for at in range(2)),
        *(trial(back, held=0.7, task=9, minute=at) for back in range(1, 8) for at in range(said)),
    ]
    sessions = [session(back) for back in range(1, 8)]
    found = week_dose(
        history(versions=(both,), trials=tuple(done), sessions=tuple(sessions)), TODAY
    )
    assert found.prescribed_s == pytest.approx(7 * (2 * 8.0 + said * line.seconds))
    assert found.received == pytest.approx(1.0)
    # A reset adds nothing to it, and is never due.
    reset = replace(session(2, sort="reset"), key=UUID(int=77))
    more = replace(trial(2, held=5.0, task=8), session=reset.key)
    again = history(versions=(both,), trials=(*done, more), sessions=(*sessions, reset))
    assert week_dose(again, TODAY) == found


@pytest.mark.parametrize("part", ["level", "pitch"])
def test_a_trial_outside_its_band_does_not_count_towards_the_dose(part):
    under = [{"part": part, "verdict": "not_met", "why": "low"}]
    short = [{"part": "seconds", "verdict": "not_met", "why": "short"}]
    tries = (trial(1, "not_met", 8.0, parts=under), trial(1, "not_met", 4.0, minute=1, parts=short))
    found = week_dose(history(versions=(version(),), trials=tries), TODAY)
    assert found.held_s == 4.0


def test_a_hiss_is_no_voice():
    air = prescribed_item(code="steady_hiss", note=None, tries=1)
    found = week_dose(history(versions=(version(tasks=(air,)),), trials=(trial(1),)), TODAY)
    assert found.prescribed_s == 0.0
    assert found.received is None


def test_both_sessions_of_a_day_fill_its_slots_fullest_first():
    twice = {**DOSE, "a_day": 2, "start": day(1).isoformat()}
    half = replace(session(1, ending="left", done=1, planned=2), key=UUID(int=77))
    made = history(versions=(version(back=1, dose=twice),), sessions=(half, session(1)))
    due, slots = slots_between(made, day(1), TODAY)
    assert due == 2
    assert [(each.outcome.value, each.fraction) for each in slots] == [
        ("done", 1.0), ("partial", 0.5),
    ]  # fmt: skip
    short = history(versions=(version(back=1, dose=twice),), sessions=(session(1, sort="short"),))
    assert [each.outcome.value for each in slots_between(short, day(1), TODAY)[1]] == [
        "short", "missed",
    ]  # fmt: skip


def test_days_are_those_of_where_the_client_lives():
    late = datetime(2026, 11, 20, 23, 30, tzinfo=UTC)
    far = replace(stop(5), said_at=late, cleared_at=late + timedelta(hours=1))
    here = due_days(History("Europe/Lisbon", versions=(version(back=7),), stops=(far,)), TODAY)
    there = due_days(History("Asia/Tokyo", versions=(version(back=7),), stops=(far,)), TODAY)
    assert {date(2026, 11, 20), date(2026, 11, 21)} & set(here) == set()
    assert date(2026, 11, 20) in there
    assert date(2026, 11, 21) not in there


def test_a_version_without_a_dose_between_others_ends_nothing():
    three = (version(back=6), version(2, 4, dose=None), version(3, 2))
    assert sorted(due_days(history(versions=three), TODAY)) == [day(6), day(5), day(2), day(1)]
    twice = (version(back=3), version(2, 3), version(3, 1))
    assert sum(due_days(history(versions=twice), TODAY).values()) == 3
