"""The plan of a session on a device: each day's tasks, their texts and their cost."""

from datetime import timedelta

import pytest
from django.utils import timezone

from tests.factories import item, publish_anyway, simple_document, trial
from tests.web.conftest import entry, plan_shown, send
from web.programmes.actions import publish_document
from web.record.models import PrescribedTask, SelfReport


def test_the_plan_holds_what_each_day_does(as_client, programme):
    plan = plan_shown(as_client)
    usual, gentler = (plan["sessions"][0]["orders"][f"{day}:full"] for day in ("usual", "gentler"))
    assert [code for code, _ in usual] == [block["id"] for block in plan["blocks"]]
    assert not {"strong-ah", "functional-phrases"} & {code for code, _ in gentler}
    assert plan["sessions"][0]["orders"]["rest:extra"] == []
    assert plan["needs_reference"]
    assert plan["asks_bother"]
    assert next(iter(plan["flags"])) == "breathing"


def test_each_turn_says_what_a_gentler_day_asks_of_it(as_client, person, clinician):
    document = simple_document(
        item("straw_hold", notes=[53], params={"seconds": 8, "reps": 2}), item("hum_phrase")
    )
    publish_document(person, document, by=clinician)
    held, said = plan_shown(as_client)["blocks"]
    assert held["turns"][0]["gentler"] == {"seconds": 6.0, "row": []}
    assert said["turns"][0]["gentler"] is None


def test_words_between_asterisks_are_stressed(as_client, person, clinician):
    lines = ["*Mind* the step, <b>please</b>.", "Two loaves."]
    document = simple_document(item("hum_phrase", lines=lines, params={}))
    publish_document(person, document, by=clinician)
    say = plan_shown(as_client)["blocks"][0]["say"]
    assert say[0][0] == {"words": "Mind", "strong": True}
    assert say[0][1] == {"words": " the step, <b>please</b>.", "strong": False}


def test_the_question_about_the_effect_of_the_voice_comes_once_a_week(as_client, person, task):
    send(as_client, entry(person, "mark", mark="bother", value=4))
    assert not plan_shown(as_client)["asks_bother"]
    SelfReport.objects.update(said_at=timezone.now() - timedelta(days=8))
    assert plan_shown(as_client)["asks_bother"]


def test_either_task_of_a_slot_will_do_and_each_has_its_own_results(as_client, person, clinician):
    document = simple_document(item("straw_hold", notes=[53], **{"or": "hum_hold"}))
    publish_anyway(person, document, by=clinician)
    (block,) = plan_shown(as_client)["blocks"]
    assert (block["name"], block["or"]["name"]) == ("Straw in air, one note", "Hum, one note")
    assert block["turns"][0]["task"] != block["or"]["turns"][0]["task"]
    codes = PrescribedTask.objects.order_by("position").values_list("task_code", "note_midi")
    assert list(codes) == [("straw_hold", 53), ("hum_hold", 53)]


def test_a_rest_day_of_the_dose_is_shown(as_client, person, clinician):
    document = simple_document()
    today = timezone.localdate(timezone=person.zone)
    document["dose"] |= {"start": today.isoformat(), "weekdays": [(today.weekday() + 1) % 7]}
    publish_anyway(person, document, by=clinician)
    assert plan_shown(as_client)["rest_today"]
    document["dose"] |= {"weekdays": [today.weekday()]}
    publish_anyway(person, document, by=clinician)
    assert not plan_shown(as_client)["rest_today"]
    document["dose"] |= {"off": [today.isoformat()]}
    publish_anyway(person, document, by=clinician)
    assert plan_shown(as_client)["rest_today"]


def test_the_plan_costs_the_same_for_two_tasks_and_for_twenty(
    as_client, person, clinician, django_assert_max_num_queries
):
    def queries(count):
        items = [item("hum_hold", id=f"i{n}", notes=[53]) for n in range(count)]
        made = publish_anyway(person, simple_document(*items), by=clinician)
        for task in made.tasks.all():
            trial(task)
            trial(task)
        with django_assert_max_num_queries(40) as seen:
            plan_shown(as_client)
        return len(seen)

    # The first page ever also creates the device's encryption key.
    plan_of_nobody_before = queries(2)
    assert queries(20) == queries(2) <= plan_of_nobody_before


@pytest.mark.parametrize("code", ["occluded_plain", "nose_pinch", "stretched_words"])
def test_a_contrast_pair_says_the_same_line_twice(as_client, person, clinician, code):
    lines = ["Two boats. Both late.", "Cold hands, warm bread.", "Mind the rope."]
    document = simple_document(item(code, contrast=True, lines=lines, params={"lines": 3}))
    publish_anyway(person, document, by=clinician)
    (block,) = plan_shown(as_client)["blocks"]
    said = ["".join(piece["words"] for piece in line) for line in block["say"]]
    assert said == [line for line in lines for _ in range(2)]
    assert block["turns"][0]["tries"] == 6
    if code == "stretched_words":
        last, first = block["say"][0], block["say"][1]
        assert [piece["words"].strip() for piece in last if piece["strong"]] == ["boats.", "late."]
        assert [piece["words"].strip() for piece in first if piece["strong"]] == ["Two", "Both"]


def test_the_plan_tells_how_long_the_voice_has_sounded_today(as_client, person, clinician):
    document = simple_document(item("straw_hold", notes=[53]), item("steady_hiss"))
    publish_document(person, document, by=clinician)
    held, air = (PrescribedTask.objects.get(task_code=c) for c in ("straw_hold", "steady_hiss"))
    trial(held, figures={"load_s": 4.0}, total_s=9.0)
    trial(held, total_s=6.5)
    trial(held, total_s=None)
    trial(held, total_s=30.0, performed_at=timezone.now() - timedelta(days=1))
    trial(air, total_s=20.0)
    assert plan_shown(as_client)["voiced"] == {"cap_s": 1200.0, "today_s": 10.5}
