"""The catalogue: complete and readable; a clinic can add tasks and hide others."""

import pytest
from django.contrib.staticfiles import finders
from django.urls import reverse

from reedcore.catalogue.schema import FAMILIES, MEASURES
from reedcore.catalogue.settings import shipped_ladders
from reedcore.catalogue.tasks import (
    BadTask,
    shipped_material,
    shipped_tasks,
    task_from,
)
from web.catalogue.queries import all_tasks, tasks_for
from web.clients.wording import PROPS

GOOD = """code: lamp_call
name: Call to the lamp
purpose: A strong, easy call.
client: [Call “hoy” to the lighthouse.]
measure: reps
parameters: {reps: {unit: times, default: 5, from: 1, to: 12}}
hazards: [loud]
"""


def test_at_least_seventy_tasks_in_all_nine_families_and_every_measure():
    tasks = shipped_tasks().values()
    assert len(tasks) >= 70
    assert {task.family for task in tasks} == set(FAMILIES)
    assert {task.measure for task in tasks} == set(MEASURES)


@pytest.mark.parametrize("task", shipped_tasks().values(), ids=lambda task: task.code)
def test_everything_a_task_names_is_there(task):
    assert 1 <= len(task.client) <= 3
    # Plain reading level: short lines of short words.
    assert all(len(line.split()) <= 12 for line in task.client)
    assert not task.ladder or task.ladder in shipped_ladders()
    assert not task.material or shipped_material()[task.material]
    assert not task.drawing or finders.find(task.drawing_path)
    assert set(task.props) <= set(PROPS)
    assert {*task.substitutes, *task.equals} <= set(shipped_tasks())
    assert task.code not in {*task.substitutes, *task.equals}


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"measure": "sing"}, "measure"),
        ({"client": ["a", "b", "c", "d"]}, "client"),
        ({"hazards": ["dangerous"]}, "hazards"),
        ({"parameters": {}}, "parameters"),
        ({"parameters": {"reps": {"unit": "times", "default": 99, "from": 1, "to": 9}}}, "outside"),
        ({"colour": "red"}, "colour"),
    ],
)
def test_a_task_that_does_not_fit_is_refused_by_name(change, says):
    import yaml

    with pytest.raises(BadTask, match=says):
        task_from({**yaml.safe_load(GOOD), **change}, family="loud")


def add(as_clinician, text, family="loud"):
    return as_clinician.post(
        reverse("catalogue:add_own"), {"family": family, "text": text}, follow=True
    )


def test_a_clinic_adds_its_own_and_another_clinic_does_not_see_it(as_clinician, clinic):
    from tests.factories import ClinicFactory

    assert "Call to the lamp" in add(as_clinician, GOOD).content.decode()
    assert tasks_for(clinic)["lamp_call"].is_loud
    assert "lamp_call" not in tasks_for(ClinicFactory())
    assert "already" in add(as_clinician, GOOD).content.decode()


WRONG = {
    "not yaml": (": [", "cannot be read"),
    "no list of names": ("just words", "not valid"),
    "a shipped code": (GOOD.replace("lamp_call", "straw_hold"), "Choose another"),
    "a ladder that is not there": (GOOD + "ladder: stairs\n", "Unknown ladder “"),
    "what cannot be kept": (GOOD.replace("A strong, easy call.", '"a\\0b"'), "cannot be kept"),
    "hostile": (GOOD.replace("A strong", "<script>"), "&lt;script&gt;"),
}


@pytest.mark.parametrize(("text", "says"), WRONG.values(), ids=WRONG.keys())
def test_invalid_values_are_reported_and_stay_in_the_form(as_clinician, clinic, text, says):
    page = add(as_clinician, text).content.decode()
    assert says in page
    assert "<script>easy" not in page


def test_a_hidden_task_is_not_offered_but_still_known(as_clinician, clinic):
    url = reverse("catalogue:hide", args=["balloon"])
    as_clinician.post(url)
    as_clinician.post(url)  # Hiding it twice keeps it hidden.
    assert "balloon" not in tasks_for(clinic)
    assert "balloon" in all_tasks(clinic)
    as_clinician.post(url, {"offer": ""})
    assert "balloon" in tasks_for(clinic)
