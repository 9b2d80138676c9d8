"""Every task of the catalogue moves along its own ladder, and accepting a proposal has the stated
effect."""

import pytest

from reedcore.catalogue.settings import shipped_ladders
from reedcore.catalogue.tasks import shipped_tasks, written_tasks
from reedcore.decisions import Proposal, Reason, Step
from reedcore.programme.rungs import rung
from tests.factories import item, publish_anyway, simple_document
from tests.sizes import first_of_each, short
from web.decisions.actions import accept_proposal
from web.decisions.proposing_steps import ProposedStep
from web.messages.models import Message
from web.record.models import PrescribedTask
from web.record.prescribed_item import PrescribedRow


def asked_of(person, clinician, code, **more):
    programme = publish_anyway(person, simple_document(item(code, **more)), by=clinician)
    return PrescribedRow(PrescribedTask.objects.get(programme=programme))


def accept(person, clinician, asked, step, **more):
    facts = {"share": 1.0, "trials": 12.0, "now_s": 8.0, "usual_s": 12.0}
    because = Reason.HOLDS_SHORTER if step is Step.EASE_AND_CALL else Reason.MOST_ON_TARGET
    proposal = Proposal(step, because, facts=facts, **more)
    decided = ProposedStep(asked.task.task_code, proposal, asked.task)
    return accept_proposal(person, decided, by=clinician)


def kind_of_step(code):
    """Return the kind of a task's steps: its ladder, and how its result is measured."""
    task = shipped_tasks()[code]
    return task.ladder, task.measure


@pytest.mark.parametrize("code", short(written_tasks(), takes=first_of_each(kind_of_step)))
@pytest.mark.parametrize(("step", "by"), [(Step.ADVANCE, 1), (Step.EASE, -1)], ids=["up", "down"])
def test_taking_a_step_sets_the_rung_that_its_words_name(person, clinician, code, step, by):
    asked = asked_of(person, clinician, code)
    to = rung(asked.prescribed_item, by=by)
    if to is None:
        # Then no rule proposes it: the task has no ladder, or is at its end.
        ladder = shipped_ladders().get(shipped_tasks()[code].ladder)
        at = asked.params.get(ladder.changes, ladder.rungs[0]) if ladder else None
        ends = ladder and (ladder.move(at, by=by) == at or ladder.by_choice is not None)
        assert ladder is None or ends
        return
    made = accept(person, clinician, asked, step, to_seconds=to.seconds if by > 0 else None)
    made = made.created_version
    (changed,) = made.document["items"]
    assert changed["params"][to.changes] == to.value
    assert to.label != to.before
    again = PrescribedRow(made.tasks.get())
    back = rung(again.prescribed_item, by=-by)
    assert back is None or back.value != to.value


def test_the_ladders_that_change_no_seconds_are_climbed_too():
    climbed = {
        shipped_ladders()[task.ladder].changes for task in shipped_tasks().values() if task.ladder
    }
    assert {"seconds", "glide", "gap"} <= climbed


def test_the_letter_to_the_client_is_written_from_what_was_changed(person, clinician):
    person.contact, person.contact_detail = "mail", "t@post.example"
    person.save()
    asked = asked_of(person, clinician, "straw_hold", params={"seconds": 9})
    accept(person, clinician, asked, Step.EASE_AND_CALL)
    assert "8 s" in Message.objects.get().text
    assert "easier" not in Message.objects.get().text
    lowest = asked_of(person, clinician, "sit_tall")  # Nothing to ease: it does not offer it.
    accept(person, clinician, lowest, Step.EASE_AND_CALL)
    assert Message.objects.latest("pk").kind == Message.Kind.CHECK_IN
