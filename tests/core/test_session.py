"""Leading a session: the end of a try, its beat, its tries, and the order of the day."""

from dataclasses import replace
from datetime import date

import pytest

from reedcore.catalogue.tasks import shipped_tasks
from reedcore.checks import Person
from reedcore.dose.today import Day, PlannedItem, SessionType
from reedcore.measures import KINDS, CountedThing
from reedcore.programme.document_values import dose_from, item_from, programme_from
from reedcore.programme.led import Phase, breaths_of
from reedcore.programme.plan import checked_item
from reedcore.programme.prescribed_item import PrescribedItem
from reedcore.programme.session import (
    Beat,
    GentlerTry,
    beat_of,
    counted_task,
    end_silence_s,
    is_led_in_phases,
    is_rest_day,
    led_session,
    led_task,
    model_of,
    planned_items,
)
from reedcore.programme.strands import strands_of
from tests.documents import empty_document, new_item

TASKS = shipped_tasks()
MONDAY = date(2026, 11, 30)


def prescribed_task(code, *, target_s=None, tries=3, note_midi=None, **more):
    params = more.pop("params", {})
    item = new_item(TASKS[code], id="a", **more)
    item["params"] |= params
    task = TASKS[code]
    return PrescribedItem(
        1, 1, code, task.measure, task.sound, note_midi=note_midi, target_s=target_s, tries=tries,
        item_id="a", item=item_from(item), shipped=task,
    )  # fmt: skip


SILENCE = {
    "a hold": (prescribed_task("hum_hold", target_s=8.0), 1.0),
    "a phased breath": (prescribed_task("s_to_z"), 1.2),
    "a pattern": (prescribed_task("five_note"), 2.0),
    "lines, with time to think": (prescribed_task("functional_phrases"), 6.0),
    "a long try has room for a breath": (prescribed_task("reset"), 1.0),
    "a minute of holding": (prescribed_task("hum_hold", target_s=60.0), 6.0),
    "a breath inside it": (prescribed_task("hum_hold", target_s=8.0, params={"breath_inside": "allowed"}), 2.5),
}  # fmt: skip


@pytest.mark.parametrize(("prescribed", "seconds"), SILENCE.values(), ids=SILENCE)
def test_after_how_much_silence_a_trial_is_over(prescribed, seconds):
    assert end_silence_s(prescribed) == seconds


def test_every_kind_says_after_how_much_silence_a_trial_is_over():
    assert all(0.5 <= kind.end_silence_s <= 10.0 for kind in KINDS.values())


def test_a_start_on_its_beat_counts_a_bar_and_breathes_on_seven():
    assert beat_of(prescribed_task("breath_on_seven", params={"tempo": 120})) == Beat(
        beat_s=0.5, before=8, breathe_on=7, at_s=4.5, lead_s=0.5, sounds=False
    )
    twisters = beat_of(prescribed_task("twisters", params={"tempo": 60}))
    assert (twisters.before, twisters.breathe_on, twisters.sounds) == (4, None, True)
    assert beat_of(prescribed_task("hum_hold")) is None


def test_a_glide_with_a_breath_in_its_middle_is_led_in_three_parts():
    assert is_led_in_phases(prescribed_task("strong_glides", params={"breath_inside": "required"}))
    assert not is_led_in_phases(
        prescribed_task("straw_glide_up", params={"breath_inside": "required"})
    )


def test_the_reference_tone_before_lines_and_patterns():
    assert model_of(prescribed_task("five_note")) == "after"
    assert model_of(prescribed_task("functional_phrases")) == "alone"
    assert (
        model_of(prescribed_task("functional_phrases", params={"model": "together"})) == "together"
    )
    assert model_of(prescribed_task("hum_hold")) == ""


def test_a_held_note_has_its_tone_its_trials_and_a_gentler_form():
    led = led_task(prescribed_task("hum_hold", target_s=8.0, note_midi=69), reference_s=2.0)
    assert led.tone == ((440.0, 2.0),)
    assert (led.seconds, led.tries) == (8.0, 3)
    assert led.gentler == GentlerTry(6.0, ())
    poor_and_good = led_task(
        prescribed_task("hum_hold", target_s=8.0, contrast=True), reference_s=2.0
    )
    assert poor_and_good.tries == 6


def test_a_row_rises_and_its_gentler_form_with_it():
    led = led_task(prescribed_task("quiet_hold", row=[5, 10, 15]), reference_s=2.0)
    assert (led.row, led.tries) == ((5, 10, 15), 3)
    assert led.gentler.row == (4.0, 8.0, 12.0)
    # A hiss uses no voice.
    assert led_task(prescribed_task("steady_hiss", target_s=15.0), reference_s=2.0).gentler is None


def test_a_pattern_is_led_round_by_round():
    led = led_task(
        prescribed_task("five_note", notes=[50], params={"rounds_up": 2}, tries=1), reference_s=2.0
    )
    assert [each.number for each in led.rounds] == list(range(1, led.tries + 1))
    assert led.rounds[-1].left == 0
    assert led.tone == ()
    assert all(each.tone for each in led.rounds)


@pytest.mark.parametrize(
    ("code", "ways"),
    [
        # The breath in stays as long as the breath out.
        ("slow_counts", [(10, 10), (20, 20), (30, 30)]),
        ("ten_fifteen", [(10, 10), (10, 20), (10, 30)]),
    ],
)
def test_a_row_raises_an_equal_breath_in_and_out(code, ways):
    item = item_from(new_item(TASKS[code], id="a", row=[10, 20, 30]))
    breaths = breaths_of(item, TASKS[code])
    assert list(dict.fromkeys((each[0].counts, each[1].counts) for each in breaths)) == ways
    # The check counts the longest of them.
    longest = checked_item(item, TASKS[code]).breath
    assert (longest.breath_in, longest.breath_out) == ways[-1]


def test_a_task_without_sound_is_counted_or_confirmed_by_the_client():
    breaths = counted_task(prescribed_task("slow_counts", params={"cycles": 1, "tempo": 60}))
    assert breaths.beat_s == 1.0
    assert breaths.breaths == ((Phase("in", 4), Phase("out", 4)),)
    assert counted_task(prescribed_task("light_onsets")).reps == 5
    assert counted_task(prescribed_task("water")).items == TASKS["water"].items
    assert counted_task(prescribed_task("balloon")).lower_is_better is True
    assert counted_task(prescribed_task("sit_tall")).counts is CountedThing.NOTHING


def document(*items, **more):
    return empty_document(MONDAY) | {"items": list(items)} | more


def test_a_floor_over_comfortable_makes_an_item_loud_and_a_gentler_day_leaves_it_out():
    soft, strong = new_item(TASKS["hum_hold"], id="s"), new_item(TASKS["ng_hold"], id="f", floor=6)
    made = document(soft, strong)
    planned = planned_items(programme_from(made), TASKS, Person(), cautions=frozenset())
    assert (planned["s"].is_loud, planned["f"].is_loud) == (False, True)
    (main,) = strands_of(programme_from(made))
    in_seconds = [replace(each, is_in_seconds=True) for each in planned.values()]
    orders = led_session(main, in_seconds).orders
    assert [turn.id for turn in orders[Day.USUAL, SessionType.FULL]] == ["s", "f"]
    assert {turn.id for turn in orders[Day.GENTLER, SessionType.FULL]} == {"s"}


def test_a_triggered_task_fills_no_slot_of_the_day():
    beside = {
        "reset": {"sort": "reset", "dose": {**empty_document(MONDAY)["dose"], "kind": "on_demand"}}
    }
    made = document(
        new_item(TASKS["hum_hold"], id="a"),
        new_item(TASKS["reset"], id="b", strand="reset"),
        beside=beside,
    )
    main, reset = (led_session(strand, []) for strand in strands_of(programme_from(made)))
    assert (main.sort, main.a_day) == (SessionType.FULL, 2)
    assert (reset.sort, reset.a_day) == (SessionType.RESET, None)
    alone = led_session(None, [PlannedItem("a", "block", is_loud=False, is_short=True)])
    assert (alone.sort, alone.a_day) == (SessionType.FULL, None)


@pytest.mark.parametrize(
    ("changes", "on", "rests"),
    [
        ({}, MONDAY, False),
        ({}, date(2026, 12, 5), True),
        ({"off": ["2026-12-01"]}, date(2026, 12, 1), True),
        ({}, date(2026, 11, 29), False),
        ({"kind": "on_demand"}, date(2026, 12, 5), False),
    ],
)
def test_a_day_that_the_dose_leaves_free(changes, on, rests):
    made = document()
    made["dose"] |= changes
    assert is_rest_day(dose_from(made["dose"]), on) is rests


def test_the_lines_of_a_version_decide_its_trials_whatever_was_stored():
    before = prescribed_task("think_answer", tries=8, lines=["Where?", "When?", "Why?"])
    assert before.tries_per_session == 3
    assert led_task(before, reference_s=1.0).tries == 3
    assert prescribed_task("hum_hold", tries=8).tries_per_session == 8
