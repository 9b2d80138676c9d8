"""Instructions for children and teenagers, and the parts shared with adults'."""

from datetime import date

import pytest

from reedcore.catalogue.ages import ADULT, CHILD, TEENAGER, age_in_years, age_lines, wording_at
from reedcore.catalogue.pairs import shapes, sounds
from reedcore.catalogue.tasks import shipped_tasks, written_tasks
from reedcore.programme.document_values import item_from
from reedcore.programme.words import client_lines
from tests.documents import new_item

TASKS = shipped_tasks()


def lines_of(code, wording, **given):
    return client_lines(item_from(new_item(TASKS[code], id="one", **given)), TASKS[code], wording)


def test_every_task_has_words_for_a_child():
    assert [code for code, task in TASKS.items() if CHILD not in task.client_for] == []


def test_a_child_reads_a_childs_text_and_an_adult_does_not():
    assert lines_of("steady_hiss", CHILD)[1] == "“Sss”, thin, like a small snake."
    assert (
        lines_of("steady_hiss", ADULT)
        == lines_of("steady_hiss", TEENAGER)
        == TASKS["steady_hiss"].client
    )
    assert (
        lines_of("conversation", TEENAGER)[0] == "Talk for three minutes about something you like."
    )


def test_a_pair_of_shape_and_sound_names_both():
    how, *lines = lines_of("siren_on_hum", CHILD)
    assert how == age_lines()[CHILD]["sounds"]["hum"]
    assert lines[:2] == age_lines()[CHILD]["shapes"]["siren"]
    how, *lines = lines_of("five_five_nine_on_hum", CHILD)
    assert how.endswith("like a sleepy bee.")
    # That half has no tasks for children.
    assert tuple(lines[:2]) == shapes()["five_five_nine"].lines


def test_the_clinicians_own_words_replace_the_words_for_an_age():
    own = {"words": ["Hiss for Wren."]}
    assert lines_of("steady_hiss", CHILD, **own, words_replace=True) == ("Hiss for Wren.",)
    assert lines_of("steady_hiss", CHILD, **own) == (
        *lines_of("steady_hiss", CHILD),
        "Hiss for Wren.",
    )


def test_a_document_without_the_choice_keeps_own_words_in_place_of_the_tasks():
    item = new_item(TASKS["steady_hiss"], id="one", words=["Hiss for Wren."])
    del item["words_replace"]
    assert client_lines(item_from(item), TASKS["steady_hiss"], ADULT) == ("Hiss for Wren.",)


@pytest.mark.parametrize("wording", [ADULT, CHILD])
@pytest.mark.parametrize("code", ["neck_side", "nose_armpit", "neck_turns", "shoulder_circles"])
@pytest.mark.parametrize("side", ["left", "right"])
def test_one_side_is_led_without_a_change_of_sides(code, side, wording):
    lines = " ".join(lines_of(code, wording, params={"side": side}))
    assert "Only this side." in lines
    assert side in lines
    assert not any(word in lines for word in ("hange sides", "other side", "other one"))


@pytest.mark.parametrize(
    ("code", "side", "stay"),
    [
        ("neck_side", {}, "Stay for 12 seconds on each side."),
        ("neck_turns", {"side": "right, then left"}, "Stay for 12 seconds on each side."),
        ("nose_armpit", {"side": "left"}, "Stay for 12 seconds."),
        ("shoulder_circles", {}, "Stay for 12 seconds on each side."),
        ("shoulder_circles", {"side": "right"}, "Stay for 12 seconds."),
        ("lip_sneer", {}, "Stay for 12 seconds on each side."),
    ],
)
def test_prescribed_seconds_replace_the_tasks_own_duration(code, side, stay):
    lines = lines_of(code, ADULT, params={"stretch_s": 12, **side})
    assert [line for line in lines if "Stay" in line or "seconds" in line] == [stay]
    usual = lines_of(code, ADULT, params=side)
    assert stay not in usual
    assert len(lines) == len(usual) + (code == "lip_sneer")


@pytest.mark.parametrize(
    ("order", "first"), [("left, then right", "left"), ("right, then left", "right")]
)
def test_both_sides_in_an_order_are_one_task(order, first):
    lines = lines_of("neck_turns", ADULT, params={"side": order})
    assert lines == (*TASKS["neck_turns"].client, f"Begin with the {first} side.")


def test_a_rung_is_described_beside_the_childs_text():
    params = {"stage": "voiced on one note", "seconds": 5}
    lines = lines_of("air_first", CHILD, params=params)
    assert lines[0] == "Bubbles or a horse’s lips, without voice."
    assert "Air first, then voice on one easy note." in lines


def test_everything_that_is_worded_is_in_the_catalogue_and_fits():
    for said in age_lines().values():
        assert set(said.get("tasks", {})) <= set(written_tasks())
        assert set(said.get("sounds", {})) <= set(sounds())
        assert set(said.get("shapes", {})) <= set(shapes())
        for lines in [*said.get("tasks", {}).values(), *said.get("shapes", {}).values()]:
            assert 1 <= len(lines) <= 3
            assert all(len(line) <= 90 for line in lines)


@pytest.mark.parametrize(
    ("years", "wording"), [(4, CHILD), (12, CHILD), (13, TEENAGER), (17, TEENAGER), (18, ADULT)]
)
def test_the_wording_follows_from_the_age(years, wording):
    assert wording_at(years) == wording


def test_a_birthday_counts_from_its_day_on():
    assert age_in_years(date(2014, 3, 2), date(2027, 3, 1)) == 12
    assert age_in_years(date(2014, 3, 2), date(2027, 3, 2)) == 13


def test_every_mouth_shape_and_posture_has_a_drawing():
    spoken = {code for code, task in TASKS.items() if task.measure in ("script", "timed", "count")}
    plain = {code for code, task in TASKS.items() if not task.drawing}
    assert plain - spoken == {"water", "habits", "carry_over", "growing_numbers"}


def test_every_task_has_faults_and_their_remedies():
    assert [code for code, task in TASKS.items() if not task.faults] == []


def test_every_task_without_a_measure_has_a_felt_check():
    unheard = {"reps", "timed", "counted", "count"}
    silent = {code for code, task in written_tasks().items() if task.measure in unheard}
    assert {code for code in silent if not TASKS[code].felt} == {"quiet_minute"}
