"""Several programmes in force together: each separately, and the day as a whole."""

from datetime import date, timedelta

import pytest

from reedcore.catalogue.tasks import shipped_tasks
from reedcore.checks import Person, check_all
from reedcore.dose.today import Day, PlannedItem, SessionType, turns_today
from reedcore.history.dues import due_by_doses, sessions_by_day
from reedcore.programme.document import clean_document
from reedcore.programme.document_values import doses_from, programme_document, programme_from
from reedcore.programme.edits import AddStrand, RemoveStrand, SetStrand, apply_edit, apply_edits
from reedcore.programme.plan import plans_of
from reedcore.programme.strands import strands_of
from reedcore.programme.taper import begin
from tests.core.histories import session
from tests.documents import empty_document, new_item

TASKS = shipped_tasks()
MONDAY = date(2026, 11, 2)
RESET = {
    "sort": "reset",
    "dose": {
        "kind": "on_demand", "start": "2026-11-02", "a_day": 12, "weekdays": [0, 1, 2, 3, 4],
        "weeks": 6, "trigger": "after a long call",
    },
}  # fmt: skip
TWICE_A_WEEK = {
    "sort": "maintenance",
    "dose": {**RESET["dose"], "kind": "rolling", "a_day": 1, "weekdays": [1, 4]},
}


def document(**beside):
    made = empty_document(MONDAY)
    made["items"] = [
        new_item(TASKS["block_power"], id="power"),
        new_item(TASKS["straw_hold"], id="straw"),
    ]
    made["items"] += [new_item(TASKS["reset"], id=f"{name}-1", strand=name) for name in beside]
    return {**made, "beside": beside}


def test_each_is_a_programme_of_its_own():
    main, reset = strands_of(programme_from(document(reset=RESET)))
    assert [item.id for item in main.programme.items] == ["power", "straw"]
    assert [item.id for item in reset.programme.items] == ["reset-1"]
    assert (reset.sort, reset.is_dated) == ("reset", False)
    assert reset.programme.dose.a_day == 12
    assert main.programme.dose.a_day == 2


def test_a_document_without_any_is_as_it_was():
    plain = {name: value for name, value in document().items() if name != "beside"}
    (only,) = strands_of(programme_from(plain))
    assert programme_document(only.programme) == plain
    assert clean_document(plain, tasks=TASKS)[1] == []


@pytest.mark.parametrize(
    ("edit", "beside", "items"),
    [
        (AddStrand("reset", RESET), ["reset"], 2),
        (AddStrand("reset", TWICE_A_WEEK), ["reset"], 2),
        (RemoveStrand("reset"), [], 2),
    ],
    ids=["put beside", "another", "one that is not there"],
)
def test_put_beside_and_taken_out(edit, beside, items):
    made = apply_edit(document(), edit, TASKS)
    assert (list(made["beside"]), len(made["items"])) == (beside, items)


def test_taking_one_out_takes_its_tasks_and_no_others():
    made = apply_edit(document(reset=RESET), RemoveStrand("reset"), TASKS)
    assert [item["id"] for item in made["items"]] == ["power", "straw"]


def test_its_dose_is_changed_and_the_main_one_stays():
    edits = [
        SetStrand("reset", "dose", "a_day", 20),
        SetStrand("reset", "", "name", "Between calls"),
    ]
    made = apply_edits(document(reset=RESET), edits, TASKS)
    main, reset = strands_of(programme_from(made))
    assert (reset.programme.dose.a_day, reset.name) == (20, "Between calls")
    assert main.programme.dose.a_day == 2


def test_at_most_five_dated_sessions_a_day():
    many = {**TWICE_A_WEEK, "dose": {**TWICE_A_WEEK["dose"], "a_day": 9}}
    assert [each.code for each in clean_document(document(often=many), tasks=TASKS)[1]] == [
        "too_many_a_day"
    ]
    assert clean_document(document(reset=RESET), tasks=TASKS)[1] == []


def test_a_task_outside_every_programme_is_reported():
    lost = document()
    lost["items"][0]["strand"] = "reset"
    assert [each.code for each in clean_document(lost, tasks=TASKS)[1]] == ["no_such_setting"]


def test_the_voice_time_of_a_day_is_summed_over_programmes_and_reported_once():
    plans = plans_of(programme_from(document(reset=RESET, more=TWICE_A_WEEK)), TASKS)
    sums = {plan.day_voiced_s + plan.beside_voiced_s for _, plan in plans}
    assert len(sums) == 1
    much = {**RESET, "dose": {**RESET["dose"], "a_day": 30}}
    heavy = document(reset=much)
    heavy["items"][0]["sets"] = 10
    heavy["items"][0]["notes"] = [48, 50, 52, 53, 55]
    found = check_all(
        [(each.id, plan) for each, plan in plans_of(programme_from(heavy), TASKS)], Person()
    )
    told = [name for name, each in found if each.code == "too_much_voice_a_day"]
    assert told == [""]


def test_a_reset_is_as_short_as_it_should_be_and_asks_for_no_short_day():
    plans = plans_of(programme_from(document(reset=RESET)), TASKS)
    found = check_all([(each.id, plan) for each, plan in plans], Person())
    assert [each.code for name, each in found if name == "reset"] == []


def test_dated_sessions_are_due_and_triggered_ones_are_not():
    made = document(reset=RESET, twice=TWICE_A_WEEK)
    doses = doses_from(made["dose"], made["beside"])
    due = due_by_doses([(MONDAY, tuple(doses.values()))], MONDAY + timedelta(days=7), ())
    # Tuesday and Friday have one more than the block's two; the weekend has none.
    assert [due.get(MONDAY + timedelta(days=day), 0) for day in range(7)] == [2, 3, 2, 2, 3, 0, 0]


def test_a_reset_fills_no_slot_of_the_day():
    kept = sessions_by_day(
        [session(1, sort="full"), session(1, sort="reset"), session(1, sort="event")]
    )
    assert [len(each) for each in kept.values()] == [1]


def test_tasks_beside_the_block_continue_during_the_taper():
    made = programme_from(document(reset=RESET))
    tapered = begin(made, peak_s=12.0, today=MONDAY, catalogue=TASKS)
    assert tapered.item("reset-1") == made.items[-1]
    assert tapered.beside == made.beside


def test_a_short_set_is_not_warmed_twice_on_a_gentler_day_and_is_never_loud():
    planned = [PlannedItem("hum", "occluded", False), PlannedItem("loud", "loud", True)]
    turns = turns_today(planned, day=Day.GENTLER, sort=SessionType.RESET)
    assert [(turn.id, turn.is_repeat) for turn in turns] == [("hum", False)]
    assert turns_today(planned, day=Day.REST, sort=SessionType.RESET) == ()


def test_an_empty_second_programme_adds_no_finding_and_findings_about_the_client_appear_once():
    ((_, main),) = plans_of(programme_from(document()), TASKS)
    ((_, empty),) = plans_of(programme_from(document() | {"items": []}), TASKS)
    unscreened = Person(is_screened=False)

    def strand_names(*plans):
        return [name for name, each in check_all(plans, unscreened) if each.code == "not_screened"]

    assert strand_names(("", main), ("reset", main)) == [""]
    assert strand_names(("reset", empty), ("", main)) == [""]
    assert check_all([("reset", empty)], unscreened) == ()
