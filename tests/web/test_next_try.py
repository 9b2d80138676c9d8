"""Advice for the next try: the task's own remedy if it has one, in the reader's words."""

import pytest

from reedcore.catalogue.ages import ADULT, CHILD
from reedcore.catalogue.tasks import shipped_tasks
from reedcore.targets.judging import VerdictReason
from tests.factories import item as document_item
from tests.factories import prescribe, simple_document
from tests.factories import trial as saved_trial
from web.intake.answers import try_answer
from web.practice.next_try import NEXT, SIGNS, next_try
from web.practice.plan import session_plan
from web.programmes.actions import publish_document

TASKS = shipped_tasks()


def part(why, verdict="not_met", name="length"):
    return {"part": name, "verdict": verdict, "why": why}


def test_every_sign_is_a_fault_of_the_catalogue():
    noticed = {noticed for task in TASKS.values() for noticed, _ in task.faults}
    assert {sign for signs in SIGNS.values() for sign in signs} <= noticed


def test_a_task_of_its_own_remedy_comes_before_the_general_one():
    task = TASKS["straw_water"] if "straw_water" in TASKS else TASKS["water"]
    (remedy,) = [remedy for noticed, remedy in task.faults if noticed == "Bubbles stop."]
    assert next_try(task, [VerdictReason.BROKEN], ADULT) == f"Next time: {remedy}"
    assert next_try(None, [VerdictReason.BROKEN], ADULT) == NEXT[VerdictReason.BROKEN]


def test_the_first_reason_with_an_answer_is_answered():
    reasons = [VerdictReason.NO_REFERENCE, VerdictReason.FLAT, VerdictReason.SHORT]
    assert next_try(None, reasons, ADULT) == NEXT[VerdictReason.FLAT]
    assert next_try(None, [VerdictReason.NO_REFERENCE], ADULT) == ""


def test_a_child_reads_seconds_and_a_short_sentence(person, clinician):
    document = simple_document(
        document_item("straw_hold", notes=[53], params={"seconds": 8}), wording=CHILD
    )
    made = publish_document(person, document, by=clinician)
    trial = saved_trial(
        made.tasks.get(), total_s=5.1, outcome="not_met", error_cents=-60.0,
        parts=[part("short"), part("flat", name="pitch"), part("no_reference", "not_judged", "level")],
    )  # fmt: skip
    answer = try_answer(trial)
    assert answer["sentence"] == "You held it for 5 seconds. The water is at 8."
    assert answer["more"] == ["Next time, start softly."]


def test_an_adult_reads_what_was_measured_and_what_to_do(person, clinician):
    task = prescribe(person, by=clinician)
    trial = saved_trial(task, total_s=3.1, outcome="not_met", parts=[part("short")])
    answer = try_answer(trial)
    assert answer["sentence"].startswith("3.1 s")
    assert answer["more"] == [NEXT[VerdictReason.SHORT]]
    met = saved_trial(task, parts=[part("reached", "met")])
    assert try_answer(met)["more"] == []


@pytest.mark.parametrize("wording", [ADULT, CHILD])
def test_a_child_has_flags_in_its_own_words_beside_the_adults(person, clinician, wording):
    made = publish_document(
        person,
        simple_document(document_item("straw_hold", notes=[53]), wording=wording),
        by=clinician,
    )
    plan, _ = session_plan(made, client=person)
    flag = plan["flags"]["breathing"]
    assert plan["is_child"] == (wording == CHILD)
    if wording == CHILD:
        assert (flag["words"], flag["adult"]) == (
            "I can’t breathe well", "trouble breathing, or noisy breathing",
        )  # fmt: skip
        assert "F3" not in plan["blocks"][0]["turns"][0]["title"]
    else:
        assert (flag["words"], flag["adult"]) == ("trouble breathing, or noisy breathing", "")
