"""Prescribing a held sound with valid and invalid input."""

import pytest
from django.urls import reverse

from tests.pages import read
from web.record.programmes import current_task

GOOD = {"sound": "oh", "note": "F3", "target_s": "15", "counts": "total", "tries": "5"}


def prescribe(as_clinician, person, **changes):
    return as_clinician.post(reverse("programmes:prescribe", args=[person.pk]), {**GOOD, **changes})


def test_a_task_is_in_force_at_once(as_clinician, person, clinician):
    response = prescribe(as_clinician, person)
    assert response.url == reverse("results:client", args=[person.pk])
    task = current_task(person)
    assert (task.sound, task.note_midi, task.target_s, task.tries) == ("oh", 53, 15.0, 5)
    assert task.programme.published_by == clinician
    page = read(as_clinician.get(response.url))
    assert "Hold “oh” on F3 for 15 s" in page


def test_a_change_makes_the_next_version_and_leaves_the_first(as_clinician, person, task):
    prescribe(as_clinician, person, target_s="7.5")
    assert [p.version for p in person.programmes.all()] == [2, 1]
    task.refresh_from_db()
    assert task.target_s == 5.0
    assert current_task(person).target_s == 7.5


def test_the_form_starts_from_what_is_in_force(as_clinician, person, task):
    page = as_clinician.get(reverse("programmes:prescribe", args=[person.pk])).content.decode()
    assert 'value="F3"' in page
    assert 'value="5"' in page


def test_no_note_means_any_note(as_clinician, person):
    prescribe(as_clinician, person, note="")
    assert current_task(person).note_midi is None


WRONG = {
    "no note": ("note", "H9", "“H9” is not a note"),
    "a note off the keyboard": ("note", "C9", "This note is outside the range C1 to C7."),
    "minus three seconds": ("target_s", "-3", "greater than or equal to 0.5"),
    "400 seconds": ("target_s", "400", "less than or equal to 90"),
    "no number": ("target_s", "nan", "Enter a number"),
    "endless": ("target_s", "inf", "Enter a number"),
    "no seconds": ("target_s", "", "This field is required"),
    "no tries": ("tries", "0", "greater than or equal to 1"),
    "a thousand tries": ("tries", "1000", "less than or equal to 30"),
    "an unknown sound": ("sound", "<script>", "Select a valid choice"),
}


@pytest.mark.parametrize(("field", "typed", "says"), WRONG.values(), ids=WRONG.keys())
def test_an_impossible_value_is_refused_beside_its_field(as_clinician, person, field, typed, says):
    response = prescribe(as_clinician, person, **{field: typed})
    assert response.status_code == 200
    page = response.content.decode()
    assert f'id="id_{field}_error"' in page
    assert says in page
    assert current_task(person) is None
    # The typed text is kept.
    if field != "target_s":
        assert 'value="15"' in page


def test_hostile_text_comes_back_escaped(as_clinician, person):
    page = prescribe(as_clinician, person, note="<b>x</b>").content.decode()
    assert "<b>x" not in page
