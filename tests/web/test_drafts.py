"""Drafts are created and discarded; the version in force stays; no data reaches another client."""

import json
from dataclasses import replace

import pytest
from django.urls import reverse
from django.utils import timezone

from reedcore.catalogue.tasks import shipped_tasks
from reedcore.pitch import Note, Spelling
from reedcore.programme.document_values import item_from, programme_from
from reedcore.programme.plan import session_part
from reedcore.programme.sounds import line_of
from reedcore.programme.times import item_seconds
from tests.factories import ClientFactory, item, simple_document
from tests.pages import read
from web.programmes.actions import publish_document
from web.programmes.drafting import save_draft
from web.programmes.presenters import number_with_unit
from web.programmes.queries import draft_document
from web.programmes.version_diff import differences
from web.record.programmes import current_programme
from web.screening.actions import record_screen


def url(name, client, *more):
    return reverse(f"programmes:{name}", args=[client.pk, *more])


def test_an_empty_composer_says_how_to_begin(as_clinician, person):
    page = read(as_clinician.get(url("compose", person)))
    assert "No programme yet." in page
    assert "No tasks yet. Press" in page
    assert "Vocal function block" in page


def test_a_draft_is_forgotten_and_the_version_stands(as_clinician, person, clinician):
    publish_document(person, simple_document(), by=clinician)
    save_draft(person, simple_document(item("scalp")), by=clinician)
    assert "This is a draft" in as_clinician.get(url("compose", person)).content.decode()
    sent = {"number": 1, "seen": 2, "edit": {"do": "forget"}}
    body = json.dumps({"page": "a-page-of-the-desk", "edits": [sent]})
    as_clinician.post(url("edit", person), body, content_type="application/json")
    page = as_clinician.get(url("compose", person)).content.decode()
    assert "This is a draft" not in page
    assert "Straw in air, one note" in page


def test_publishing_ends_the_draft(person, clinician):
    save_draft(person, simple_document(), by=clinician)
    publish_document(person, simple_document(), by=clinician)
    person.refresh_from_db()
    assert not hasattr(person, "draft")


def test_one_clients_version_is_not_anothers(as_clinician, person, clinician, clinic):
    publish_document(person, simple_document(), by=clinician)
    other = ClientFactory(clinic=clinic)
    assert as_clinician.get(url("version", other, 1)).status_code == 404
    assert as_clinician.get(url("version", person, 2)).status_code == 404


def test_one_held_sound_has_no_handout(as_clinician, person, task):
    assert as_clinician.get(url("handout", person, 1)).status_code == 404
    assert "one held sound" in read(as_clinician.get(url("versions", person)))


def test_a_truncated_edit_is_refused(as_clinician, person):
    page = as_clinician.post(url("accept_file", person), {"text": "{"}, follow=True)
    assert "Nothing was imported. Choose the file again." in page.content.decode()


TRIES = {
    "a hold": ("straw_hold", {"seconds": 9}, 9.0),
    "minutes": ("sit_tall", {"minutes": 2}, 120.0),
    "a breath hold": ("quiet_hold", {"held_s": 15}, 15.0),
    "counted breaths": ("slow_counts", {"breath_in": 4, "breath_out": 8, "tempo": 60, "cycles": 3}, 36.0),
    # Out for 4, 8 and 12 after three breaths in for 4.
    "growing breaths": ("counts_growing", {"breath_in": 4, "breath_out": 12, "tempo": 60, "cycles": 3}, 36.0),
    "held between": ("slow_counts", {"breath_in": 4, "breath_out": 4, "held": 2, "tempo": 60, "cycles": 1}, 10.0),
    "one last puff": ("ten_fifteen", {"breath_in": 10, "breath_out": 15, "tempo": 60, "cycles": 1}, 26.0),
    "sweeps for minutes": ("straw_circles", {"minutes": 3}, 180.0),
    "a joined pair": ("s_to_z", {"s_s": 3, "z_s": 5}, 8.0),
    "a scale": ("five_note", {"tempo": 90}, 6.0),
    # One second, and 0.45 s per word: "Good morning." has two, "Mind the step, please." four.
    "lines": ("functional_phrases", {"lines": 2}, 1 + 0.45 * 3),
}  # fmt: skip


@pytest.mark.parametrize(("code", "params", "seconds"), TRIES.values(), ids=TRIES.keys())
def test_how_long_a_trial_lasts(code, params, seconds):
    task = shipped_tasks()[code]
    made = item_from(item(code, params=params))
    assert item_seconds(made, task) == pytest.approx(seconds)
    assert session_part(made, task).target_s == pytest.approx(seconds)


def test_a_row_of_rising_targets_is_one_trial_a_step():
    made = item_from(item("steady_hiss", row=[15, 20, 25]))
    part = session_part(made, shipped_tasks()["steady_hiss"])
    assert (part.tries, part.target_s) == (3, 20.0)


def test_the_tones_of_an_item():
    tasks = shipped_tasks()
    tones = line_of(item_from(item("straw_hold", notes=[53, 55])), tasks["straw_hold"])
    assert [note for note, _ in tones if note] == [Note(53), Note(55)]
    assert line_of(item_from(item("sit_tall")), tasks["sit_tall"]) == []
    # A scale that would leave the keyboard returns its first note, not nothing.
    high = line_of(item_from(item("five_five_nine", notes=[94])), tasks["five_five_nine"])
    assert [note for note, _ in high] == [Note(94)]


def test_the_same_document_differs_in_nothing():
    asked = programme_from(simple_document(item("straw_hold", notes=[53])))
    tasks = shipped_tasks()
    assert differences(asked, asked, tasks=tasks, spelling=Spelling.SHARPS) == []
    later = replace(asked, dose=replace(asked.dose, a_day=3))
    (line,) = differences(asked, later, tasks=tasks, spelling=Spelling.SHARPS)
    assert line == "sessions a day: 2 → 3"


def test_a_dose_starts_on_the_day_it_is_made():
    assert simple_document()["dose"]["start"] == timezone.localdate().isoformat()


@pytest.mark.parametrize(
    ("value", "unit", "words"),
    [
        (1, "glasses", "1 glass"), (2, "glasses", "2 glasses"), (1, "times", "1 time"),
        (1, "beats a minute", "1 beat a minute"), (1, "s", "1 s"), (1, "min", "1 min"),
        (0.5, "lines", "0.5 lines"),
    ],
)  # fmt: skip
def test_one_is_singular(value, unit, words):
    assert number_with_unit(value, unit) == words


def test_a_version_is_withdrawn_and_an_older_one_restored(as_clinician, person, clinician):
    for code in ("straw_hold", "scalp", "water"):
        publish_document(person, simple_document(item(code)), by=clinician)
    save_draft(person, simple_document(item("hum_hold")), by=clinician)
    page = as_clinician.post(url("withdraw", person, 3), follow=True).content.decode()
    assert "Programme 3 is withdrawn. Programme 2 is in force again." in page
    page = as_clinician.post(url("withdraw", person, 3), follow=True).content.decode()
    assert "Programme 3 is not in force" in page
    page = as_clinician.post(url("again", person, 1), follow=True).content.decode()
    assert "Programme 4 is in force, with the content of programme 1." in page
    now = current_programme(person)
    assert (now.version, now.reason) == (4, "as programme 1 was")
    assert now.document["items"][0]["task"] == "straw_hold"
    assert draft_document(person)["items"][0]["task"] == "hum_hold"


def test_a_restored_version_is_checked_against_the_current_record(as_clinician, person, clinician):
    publish_document(person, simple_document(item("quiet_hold")), by=clinician)
    publish_document(person, simple_document(item("scalp")), by=clinician)
    record_screen(person, by=clinician, flags=[], cautions=["pressure"], note="")
    page = as_clinician.post(url("again", person, 1), follow=True).content.decode()
    assert "Change the task, or accept it with a reason." in page
    assert current_programme(person).version == 2


def test_one_held_sound_is_put_in_force_again_too(as_clinician, person, task, clinician):
    publish_document(person, simple_document(item("scalp")), by=clinician)
    as_clinician.post(url("again", person, 1))
    assert current_programme(person).tasks.get().target_s == task.target_s
