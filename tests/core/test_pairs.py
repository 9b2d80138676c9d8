"""Every shape with every sound: composed, advanced, eased and swapped; with its words and
hazards."""

from datetime import date

import pytest

from reedcore.catalogue.pairs import shapes, sounds
from reedcore.catalogue.settings import ladders_of, shipped_ladders
from reedcore.catalogue.tasks import easier_tasks, shipped_tasks, task_of_pair, written_tasks
from reedcore.checks import Person, check
from reedcore.programme.document import clean_document
from reedcore.programme.document_values import item_from, programme_from
from reedcore.programme.edits import ClimbRung, SetField, Swap, apply_edit
from reedcore.programme.plan import hazards_of_item, plans_of, pressure_of, session_part
from reedcore.programme.rungs import rung_of_item
from reedcore.programme.swap import has_props, substitute_for
from reedcore.programme.words import client_lines
from reedcore.safety import Hazard
from tests.documents import empty_document, new_item

TASKS = shipped_tasks()
TODAY = date(2026, 11, 2)


def document(code, **given):
    return {**empty_document(TODAY), "items": [new_item(TASKS[code], id="a", **given)]}


def test_every_shape_is_there_on_every_sound():
    for shape in shapes():
        for sound in sounds():
            task = task_of_pair(shape, sound, TASKS)
            assert task.pair == (shape, sound)
            assert task.voiced


@pytest.mark.parametrize("code", TASKS)
def test_a_task_is_composed_advanced_eased_and_swapped(code):
    task = TASKS[code]
    made = document(code, notes=[48, 55][: task.notes])
    assert clean_document(made, tasks=TASKS)[1] == []
    item = item_from(made["items"][0])
    assert session_part(item, task).seconds > 0
    assert 1 <= len(client_lines(item, task)) <= 8
    for ladder in ladders_of(task).values():
        on_it = apply_edit(made, SetField("a", "ladder", ladder.code), TASKS)
        for by in (1, -1):
            to = rung_of_item(item_from(on_it["items"][0]), task, by=by)
            moved = apply_edit(on_it, ClimbRung("a", by), TASKS)
            assert clean_document(moved, tasks=TASKS)[1] == []
            assert (moved != on_it) == (to is not None)
    if task.voiced:
        others = easier_tasks(task, TASKS)
        assert others, "nobody is left without something else to do"
        swapped = apply_edit(made, Swap("a", others[0].code), TASKS)
        assert clean_document(swapped, tasks=TASKS)[1] == []


def test_every_ladder_is_climbed_by_something():
    climbed = {code for task in TASKS.values() for code in ladders_of(task)}
    assert climbed == set(shipped_ladders())


def test_the_sound_is_a_ladder_too():
    made = document("glide_up_on_hum", notes=[48, 55], ladder="sound", sets=2)
    moved = apply_edit(made, ClimbRung("a", 1), TASKS)
    assert (moved["items"][0]["task"], moved["items"][0]["notes"]) == ("glide_up_on_oo", [48, 55])
    assert moved["items"][0]["sets"] == 2


def test_feedback_is_faded_by_its_ladder():
    made = document("straw_hold", ladder="feedback")
    for wanted in ("trial", "block", "none", "none"):
        made = apply_edit(made, ClimbRung("a", 1), TASKS)
        assert made["items"][0]["feedback"] == wanted


CANNOT_TRILL = ["lip_trill", "puffed_cheek", "straw", "hum"]


@pytest.mark.parametrize(
    "shape", [shape for shape in shapes() if shape not in ("line_pair", "lines")]
)
def test_a_client_who_cannot_trill_the_tongue_gets_the_next_sound(shape):
    task = task_of_pair(shape, "tongue_trill", TASKS)
    named = [each.pair[1] for each in easier_tasks(task, TASKS) if each.pair[0] == shape]
    assert named[:4] == CANNOT_TRILL


def test_a_substitute_is_of_what_the_client_owns():
    lips = substitute_for("straw_hold", TASKS, owned=["mirror"])
    assert not lips.props
    assert (
        substitute_for("glide_up_on_straw_water", TASKS, owned=["straw_4mm", "bottle"]).code
        == "straw_glide_up"
    )
    assert has_props(TASKS["straw_hold"], ["straw_3mm"])
    assert not has_props(TASKS["straw_water"], ["straw_6mm"])


@pytest.mark.parametrize(
    ("code", "params", "about"),
    [
        ("straw_hold", {}, 0.43),
        ("straw_hold", {"bore_mm": 3.0, "length_cm": 20.0}, 10.9),
        ("held_note_on_tube", {}, 0.07),
        ("straw_water", {"depth_cm": 4}, 4.43),
        ("tube_water", {"depth_cm": 5}, 5.07),
        ("siren_on_straw_water", {"bore_mm": 6, "length_cm": 20, "depth_cm": 3}, 3.43),
    ],
)
def test_the_estimate_follows_bore_length_and_depth(code, params, about):
    item = new_item(TASKS[code], id="a")
    item["params"] |= params
    assert pressure_of(item_from(item), TASKS[code]) == pytest.approx(about, rel=0.05)


@pytest.mark.parametrize("sound", sounds())
def test_hazards_are_those_of_the_sound_and_of_the_shape(sound):
    up = task_of_pair("glide_up", sound, TASKS)
    hold = task_of_pair("held_note", sound, TASKS)
    assert Hazard.HIGH in up.hazards
    assert {hazard.value for hazard in hold.hazards} >= set(sounds()[sound].hazards)
    assert set(sounds()[sound].props) <= set(up.props)


@pytest.mark.parametrize(
    ("code", "params", "brings"),
    [
        ("straw_hold", {"breath_in_by": "straw"}, {Hazard.SUCK}),
        ("straw_water", {"bubbles": "vigorous"}, {Hazard.HARD_BLOW}),
        ("slow_counts", {"posture": "lying with book"}, {Hazard.LYING_FLAT}),
        ("slow_counts", {"held": 2}, {Hazard.BREATH_HOLD}),
        ("hum_hold", {"pause_s": 1}, {Hazard.BREATH_HOLD}),
        ("hum_hold", {}, set()),
        ("swell_fade", {}, {Hazard.SWELL}),
    ],
)
def test_a_setting_brings_its_hazard(code, params, brings):
    task, item = TASKS[code], new_item(TASKS[code], id="a")
    item["params"] |= params
    assert hazards_of_item(item_from(item), task) - task.hazards == {Hazard.UPPER_AIRWAY, *brings}


def test_a_reclined_client_gets_no_task_lying_flat():
    task, item = TASKS["lying_book"], new_item(TASKS["lying_book"], id="a")
    assert Hazard.LYING_FLAT in hazards_of_item(item_from(item), task)
    item["params"]["posture"] = "seated, hands"
    assert Hazard.LYING_FLAT not in hazards_of_item(item_from(item), task)


def test_lungs_held_between_counts_are_a_breath_hold_of_so_many_seconds():
    made = document("slow_counts")
    made["items"][0]["params"] |= {"held": 12, "tempo": 20}
    ((_, plan),) = plans_of(programme_from(made), TASKS)
    assert plan.items[0].held_breath_s == 36.0
    assert "breath_hold_too_long" in {each.code for each in check(plan, Person())}


def test_sounds_with_a_text_of_their_own_keep_it_and_others_get_the_general_one():
    assert TASKS["straw_hold"].client == written_tasks()["straw_hold"].client
    made = TASKS["held_row_on_lip_trill"]
    assert made.client[0] == sounds()["lip_trill"].how
    assert made.sound == "lip trill"
