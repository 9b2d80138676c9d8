"""Every task of the catalogue, prescribed and tried with the simulated voice: judged correctly, or
asked about if it is not measured."""

from operator import itemgetter

import pytest

from reedcore.catalogue.tasks import shipped_tasks
from reedcore.measures import TrialContext, kind_of, measure_trial
from reedcore.programme.edit_values import AddItem, SetParameter
from reedcore.programme.edits import apply_edit
from reedcore.programme.starting import ClientFigures, fitted_item
from reedcore.targets import Verdict
from tests.documents import empty_document
from tests.factories import publish_anyway
from web.practice.simulated import COMFORTABLE_DBFS, simulated_clip
from web.record.prescribed_item import PrescribedRow

RATE = 16_000
#: For a start on the beat, the device reports the time of the beat.
BEAT_S = 6.0
#: Short, but long enough to be judged.
SHORT = {"seconds": 2.0, "reps": 1, "lines": 1, "minutes": 0.3, "rounds_up": 0, "rounds_down": 0}
CODES = list(shipped_tasks())


def parts(codes, most):
    """Return programmes of at most this many tasks."""
    return [codes[at : at + most] for at in range(0, len(codes), most)]


#: One task for each kind of measure on each sound; a clip is made and measured for each of them.
KIND_AND_SOUND = {(task.measure, task.sound): code for code, task in shipped_tasks().items()}
EACH_ONCE = sorted(KIND_AND_SOUND.values(), key=CODES.index)


def end_published_draft(person, clinician, codes):
    """Publish a programme of these tasks with this client's notes, as short as allowed."""
    tasks, document = shipped_tasks(), empty_document(person.created_at.date())
    for number, code in enumerate(codes):
        task, id = tasks[code], f"a{number}"
        document = apply_edit(document, AddItem(id, code, None), tasks)
        item = fitted_item(task, ClientFigures(voice=person.voice), id=id)
        document["items"][number]["notes"] = list(item.notes) or ([50] if task.notes else [])
        for name, value in SHORT.items():
            if limits := task.parameters.get(name):
                value = min(max(value, limits.lowest), limits.highest)
                document = apply_edit(document, SetParameter(id, name, value), tasks)
    return publish_anyway(person, document, by=clinician)


@pytest.mark.parametrize("codes", parts(EACH_ONCE, 20), ids=itemgetter(0))
def test_each_kind_on_each_sound_is_judged_or_confirmed_by_the_client(person, clinician, codes):
    every_one_is_judged_or_asked_about(person, clinician, codes)


@pytest.mark.long
@pytest.mark.parametrize("codes", parts(CODES, 60), ids=itemgetter(0))
def test_every_task_is_judged_or_confirmed_by_the_client(person, clinician, codes):
    every_one_is_judged_or_asked_about(person, clinician, codes)


def every_one_is_judged_or_asked_about(person, clinician, codes):
    programme = end_published_draft(person, clinician, codes)
    tried, unjudged = set(), {}
    for row in programme.tasks.all():
        row.programme = programme
        asked = PrescribedRow(row, shipped_tasks())
        if row.task_code in tried:
            continue
        tried.add(row.task_code)
        if not kind_of(row.measure).is_heard:
            continue
        number = 1 if asked.prescribed_item.kind == "pattern" else None
        clip = simulated_clip(asked, manner="even", seed=1, number=number, rate_hz=RATE)
        wanted = asked.prescribed_item.goal_of(number=number, beat_s=BEAT_S)
        heard = measure_trial(
            wanted, TrialContext(reference_dbfs=COMFORTABLE_DBFS), clip.samples, RATE
        )
        if heard.judgement.overall is Verdict.NOT_JUDGED:
            unjudged[row.task_code] = heard.judgement
    assert tried == set(codes)
    assert unjudged == {}
