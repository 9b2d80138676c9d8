"""The composer: edits, the check, starting programmes, versions."""

import json
import re
from datetime import timedelta

import pytest
from django.contrib.auth import get_user_model
from django.urls import reverse
from django.utils import timezone

from reedcore.catalogue.tasks import shipped_tasks
from reedcore.programme.document import clean_document
from reedcore.programme.document_schema import MOST_ITEMS
from reedcore.programme.document_values import item_from, programme_from
from reedcore.programme.words import client_lines
from tests.documents import new_item
from tests.factories import (
    ClientFactory,
    baseline_trial,
    item,
    simple_document,
    trial,
)
from tests.web.conftest import plan_shown
from web.programmes.actions import OpenStops, publish_document
from web.programmes.drafting import save_draft
from web.programmes.presenters import target_words
from web.programmes.problems import problem_words
from web.programmes.queries import edition_of
from web.record.models import PrescribedTask
from web.screening.actions import record_screen
from web.sound.models import Calibration


def url_of(person):
    return reverse("programmes:edit", args=[person.pk])


def edit(as_clinician, person, document, chosen=""):
    """Return the composer's answer for a draft with this document."""
    by = get_user_model().objects.get(pk=as_clinician.session["_auth_user_id"])
    save_draft(person, document, by=by)
    return as_clinician.get(url_of(person), {"seen": "-1", "chosen": chosen})


PAGE = "a-page-of-the-desk"


def send(as_clinician, person, *edits, seen=None, page=PAGE, first=1, sure=False):
    """Send a page's edits in order, based on the edition that it shows."""
    seen = edition_of(person) if seen is None else seen
    sent = [
        {"number": first + at, "seen": seen, "edit": each, "sure": sure}
        for at, each in enumerate(edits)
    ]
    body = json.dumps({"page": page, "edits": sent})
    return as_clinician.post(url_of(person), body, content_type="application/json")


def type_edit(item, name, said):
    return {"do": "type", "item": item, "name": name, "said": said}


def test_an_edit_comes_back_drawn_counted_and_checked(as_clinician, measured):
    document = simple_document(item("straw_hold", notes=[53]), item("strong_ah"))
    stage = edit(as_clinician, measured, document).json()["stage"]
    for words in (
        "Straw in air, one note",
        "F3",
        "step 13 of 26",
        "next 9 s",
        "7 tries",
        "Programme check",
    ):
        assert words.replace("7 tries", "<strong>7</strong> trials") in stage
    assert "Cool-down after loud tasks is 0 s" in stage
    assert measured.draft.document["items"][1]["task"] == "strong_ah"


def test_the_panel_shows_what_can_be_changed(as_clinician, measured):
    stage = edit(as_clinician, measured, simple_document(), chosen="straw-hold").json()["stage"]
    assert 'name="param:seconds"' in stage
    assert "Lip trill, one note" in stage  # The alternative task.
    assert 'value="F3"' in stage


def test_own_lines_stand_for_their_number(as_clinician, measured):
    phrases = item("functional_phrases", id="a", lines=[f"Line {n}." for n in range(7)])
    stage = edit(as_clinician, measured, simple_document(phrases), chosen="a").json()["stage"]
    assert ": 7 lines, each said once a set" in stage
    assert 'name="param:lines"' not in stage
    assert "7 lines" in stage.replace(": 7 lines, each", "")
    assert "10 lines" not in stage
    without = simple_document({**phrases, "lines": []})
    assert 'name="param:lines"' in edit(as_clinician, measured, without, chosen="a").json()["stage"]


@pytest.mark.parametrize(
    ("code", "params", "row", "words"),
    [
        ("slow_counts", {"breath_in": 6, "breath_out": 6}, [], "in 6, out 6 counts at 60 a minute"),
        ("slow_counts", {"held": 2}, [], "in 4, hold 2, out 4 counts at 60 a minute"),
        ("counts_growing", {}, [], "in 4, out 4, then 8, then 12 counts at 100 a minute"),
        ("slow_counts", {}, [4, 8, 12], "in and out 4, then 8, then 12 counts at 60 a minute"),
        (
            "slow_counts",
            {"held": 2},
            [10, 20],
            "in and out 10, then 20 counts, hold 2 between, at 60 a minute",
        ),
        ("slow_counts", {"breath_in": 2}, [4, 8], "in 2, out 4, then 8 counts at 60 a minute"),
        ("quiet_hold", {}, [5, 10], "5, 10 s"),
    ],
)
def test_counted_breaths_are_read_as_counts(code, params, row, words):
    task = shipped_tasks()[code]
    made = new_item(task, id="a", row=row)
    counted = item_from({**made, "params": made["params"] | params})
    assert target_words(counted, task) == words


def hand_over(as_clinician, person, *, seen=None, **more):
    seen = edition_of(person) if seen is None else seen
    url = reverse("programmes:publish", args=[person.pk])
    return as_clinician.post(url, {"seen": seen, **more}, follow=True)


def test_too_many_items_are_refused_whole():
    document = simple_document(*[item("hum_hold", id=f"i{n}") for n in range(MOST_ITEMS + 1)])
    kept, problems = clean_document(document, tasks=shipped_tasks())
    assert kept == {}
    assert "at most 60" in problem_words(problems[0])


def test_results_are_kept_apart_by_note(measured, clinician):
    programme = publish_document(
        measured,
        simple_document(item("block_power", notes=[48, 50], params={"seconds": 9})),
        by=clinician,
    )
    rows = list(programme.tasks.all())
    assert [(row.note_midi, row.target_s, row.tries) for row in rows] == [
        (48, 9.0, 2),
        (50, 9.0, 2),
    ]
    assert {row.task_code for row in rows} == {"block_power"}


def test_a_version_never_changes_once_it_is_published(measured, clinician):
    first = publish_document(measured, simple_document(), by=clinician)
    row = first.tasks.get()
    trial(row)
    longer = simple_document(item("straw_hold", notes=[53], params={"seconds": 9}))
    second = publish_document(measured, longer, by=clinician, reason="steady for a week")
    row.refresh_from_db()
    assert (first.version, second.version) == (1, 2)
    assert row.target_s == 8.0
    assert row.trials.count() == 1
    assert second.tasks.get().target_s == 9.0


def test_the_difference_of_two_versions_can_be_read(as_clinician, measured, clinician):
    publish_document(
        measured, simple_document(item("straw_hold", notes=[53]), item("scalp")), by=clinician
    )
    changed = item("straw_hold", notes=[55], params={"seconds": 9}, short=True)
    publish_document(
        measured, simple_document(changed, item("water")), by=clinician, reason="steady"
    )
    page = as_clinician.get(reverse("programmes:versions", args=[measured.pk])).content.decode()
    for words in (
        "removed: Scalp", "added: Water", "8 s → 9 s", "notes F3 → G3", "short day: no → yes", "“steady”",
    ):  # fmt: skip
        assert words in page


def test_a_stop_needs_a_written_reason_and_it_stays_on_record(as_clinician, measured, clinician):
    on_record(measured, clinician, "pressure")
    document = simple_document(item("quiet_hold", params={"held_s": 20}))
    with pytest.raises(OpenStops) as refused:
        publish_document(measured, document, by=clinician)
    stage = edit(as_clinician, measured, document).json()["stage"]
    assert "this is a breath hold" in stage
    page = hand_over(as_clinician, measured)
    assert "Change the task, or accept it with a reason." in page.content.decode()
    assert not measured.programmes.exists()
    (key,) = refused.value.keys
    document["overrules"] = {key: "cardiologist agreed on 2 November"}
    programme = publish_document(measured, document, by=clinician)
    assert programme.document["overrules"] == document["overrules"]


def on_record(person, clinician, *cautions, **more):
    """Put a screening's cautions on the record."""
    record_screen(person, by=clinician, flags=[], cautions=list(cautions), note="", **more)
    person.refresh_from_db()


def test_a_reason_overrules_one_caution_of_one_task_and_no_other(measured, clinician):
    on_record(measured, clinician, "pressure_acute", "lung_disease")
    document = simple_document(item("balloon"), item("sh_four"))
    with pytest.raises(OpenStops) as refused:
        publish_document(measured, document, by=clinician)
    keys = refused.value.keys
    assert sorted(key.split("@")[0] for key in keys) == [
        "caution_on_record:balloon:lung_disease",
        "caution_on_record:balloon:pressure_acute",
        "caution_on_record:sh-four:lung_disease",
        "caution_on_record:sh-four:pressure_acute",
    ]
    document["overrules"] = {keys[0]: "the surgeon agreed"}
    with pytest.raises(OpenStops) as refused:
        publish_document(measured, document, by=clinician)
    assert refused.value.keys == keys[1:]
    document["overrules"] = dict.fromkeys(keys, "the surgeon agreed")
    assert publish_document(measured, document, by=clinician).version == 1


def test_a_reason_lapses_when_its_entry_of_the_record_changes_and_only_then(
    as_clinician, measured, clinician
):
    on_record(measured, clinician, "lung_disease", "latex")
    document = simple_document(item("balloon"))
    with pytest.raises(OpenStops) as refused:
        publish_document(measured, document, by=clinician)
    document["overrules"] = dict.fromkeys(refused.value.keys, "a plastic one, and gently")
    programme = publish_document(measured, document, by=clinician)
    # A second request gives the same answer.
    on_record(measured, clinician, "lung_disease", "latex")
    programme.refresh_from_db()
    assert programme.concerns == []
    on_record(measured, clinician, "lung_disease")
    on_record(measured, clinician, "lung_disease", "latex")  # It is reported again.
    programme.refresh_from_db()
    assert programme.concerns == ["Latex allergy: this is latex."]
    board = as_clinician.get(reverse("decisions:board")).content.decode()
    assert "now conflicts with it: Latex allergy: this is latex." in board
    with pytest.raises(OpenStops) as refused:
        publish_document(measured, document, by=clinician)
    assert [each.about for each in refused.value.findings] == ["latex"]
    stage = edit(as_clinician, measured, document).json()["stage"]
    assert "Reason given before the record changed: “a plastic one, and gently”" in stage


def test_a_reason_turns_a_blocking_finding_into_a_warning_until_the_item_changes(
    measured, clinician
):
    allowed = {"who": "Dr. Wen", "on": "2026-10-01", "what": "short holds"}
    on_record(measured, clinician, "pressure", said_so={"pressure": allowed})
    programme = publish_document(measured, simple_document(item("quiet_hold")), by=clinician)
    on_record(measured, clinician, "pressure")  # The permission is gone.
    programme.refresh_from_db()
    assert len(programme.concerns) == 1


def test_publishing_without_a_screening_and_a_laryngeal_examination_needs_a_reason(
    clinic, clinician
):
    stranger = ClientFactory(clinic=clinic, complaint="", screened=False)
    with pytest.raises(OpenStops) as refused:
        publish_document(stranger, simple_document(), by=clinician)
    assert [each.code for each in refused.value.findings] == ["not_screened"]
    on_record(stranger, clinician)
    with pytest.raises(OpenStops) as refused:
        publish_document(stranger, simple_document(), by=clinician)
    assert [each.code for each in refused.value.findings] == ["larynx_not_seen"]
    overruled = dict.fromkeys(refused.value.keys, "seen by the laryngologist next week")
    document = simple_document() | {"overrules": overruled}
    assert publish_document(stranger, document, by=clinician).version == 1


def test_a_ceiling_knows_how_loud_the_comfortable_voice_is_where_the_device_is_calibrated(
    measured, clinician
):
    sheet = measured.baselines.get()
    capture = {"device": "desk microphone", "browser": "Chromium"}
    baseline_trial(
        measured, by=clinician, sheet=sheet, step="comfortable", capture=capture,
        figures={"median_hz": 150.0, "level_dbfs": -30.0},
    )  # fmt: skip
    Calibration.objects.create(
        clinic=measured.clinic, made_on=timezone.localdate(), made_by=clinician, weighting="C",
        device=capture["device"], browser=capture["browser"], distance_m=0.3,
        meter_db_spl=84.0, recorded_dbfs=-30.0,
    )  # fmt: skip
    document = simple_document(item("strong_ah", ceiling=12))
    with pytest.raises(OpenStops) as refused:
        publish_document(measured, document, by=clinician)
    (finding,) = [each for each in refused.value.findings if each.code == "ceiling_too_high"]
    assert finding.facts["most"] == pytest.approx(11.0)


def test_the_quick_way_to_prescribe_runs_the_whole_check(as_clinician, person, clinician):
    on_record(person, clinician, "fainting", "lung_disease")
    url = reverse("programmes:prescribe", args=[person.pk])
    type_edit = {"sound": "oh", "note": "F3", "target_s": "15", "counts": "total", "tries": "5"}
    refused = as_clinician.post(url, type_edit)
    page = refused.content.decode()
    assert refused.status_code == 409
    assert "Fainting: this is a long out-breath." in page
    assert "Lung disease: this is emptying the lungs." in page
    assert 'value="15"' in page
    names = re.findall(r'name="(why:[^"]+)"', page)
    half = as_clinician.post(url, {**type_edit, names[0]: "seated, and watched"})
    assert half.status_code == 409
    assert "seated, and watched" in half.content.decode()
    done = as_clinician.post(url, {**type_edit, **dict.fromkeys(names, "seated, and watched")})
    assert done.status_code == 302
    assert len(person.programmes.get().overrules) == 3


def test_rests_are_longer_with_lung_disease_and_the_pause_goes_without_water(
    as_client, as_clinician, measured, clinician
):
    on_record(measured, clinician, "lung_disease", "aspiration")
    document = simple_document(item("straw_hold", notes=[53], params={"seconds": 4}, sip=True))
    publish_document(measured, document, by=clinician)
    plan = plan_shown(as_client)
    assert plan["blocks"][0]["rest_s"] == 15.0
    assert plan["dry"] is True
    handout = as_clinician.get(
        reverse("programmes:handout", args=[measured.pk, 1])
    ).content.decode()
    assert "Take a short pause." in handout
    assert "Take sip of water." not in handout


def test_a_step_of_more_than_a_fifth_in_a_week_is_noticed(as_clinician, measured, clinician):
    week_ago = timezone.now() - timedelta(days=8)
    publish_document(measured, simple_document(), by=clinician, at=week_ago)
    longer = simple_document(item("straw_hold", notes=[53], params={"seconds": 10}))
    assert "10 s after 8 s last week" in edit(as_clinician, measured, longer).json()["stage"]


def test_an_empty_programme_cannot_be_published(as_clinician, measured):
    page = hand_over(as_clinician, measured)
    assert "Nothing to prescribe yet. Add a task first." in page.content.decode()


def test_a_red_flag_keeps_a_whole_programme_back(as_clinician, measured, clinician):
    measured.screens.create(asked_at=timezone.now(), asked_by=clinician, flags=["neck_lump"])
    edit(as_clinician, measured, simple_document())
    page = hand_over(as_clinician, measured)
    assert "A red flag is open" in page.content.decode()
    assert not PrescribedTask.objects.exists()


def test_the_client_practises_a_whole_programme(as_client, measured, clinician):
    document = simple_document(item("sit_tall"), item("straw_hold", notes=[53]))
    publish_document(measured, document, by=clinician)
    blocks = plan_shown(as_client)["blocks"]
    assert [block["name"] for block in blocks] == ["Seated tall", "Straw in air, one note"]
    assert blocks[1]["turns"][0]["title"] == "Straw in air, one note on F3"
    voice = reverse(
        "practice:simulated_voice", args=[PrescribedTask.objects.get(measure="hold").pk]
    )
    assert as_client.get(voice + "?manner=even&seed=1").status_code == 200


def test_own_words_stand_beside_the_tasks_unless_they_are_to_replace_them(as_clinician, measured):
    edit(as_clinician, measured, simple_document())
    own = type_edit("straw-hold", "words", "Sit at the window.")
    send(as_clinician, measured, own)
    task = shipped_tasks()["straw_hold"]

    def lines():
        (item,) = programme_from(measured.draft.document).items
        return client_lines(item, task)

    measured.draft.refresh_from_db()
    assert lines() == (*task.client, "Sit at the window.")
    toggle = type_edit("straw-hold", "words_replace", True)
    assert send(as_clinician, measured, own, toggle).json()["not_made"] == []
    measured.draft.refresh_from_db()
    assert lines() == ("Sit at the window.",)


def test_a_row_reads_as_a_row_and_not_as_a_step_of_a_ladder(as_clinician, measured):
    hold = {**new_item(shipped_tasks()["quiet_hold"], id="a"), "row": [15, 30, 60, 90]}
    stage = edit(as_clinician, measured, simple_document(hold)).json()["stage"]
    assert "15, 30, 60, 90 s" in stage
    assert "rises within the session" in stage
    assert not re.search(r"step \d of \d", stage)


def test_strong_work_without_a_floor_shows_the_usual_one(as_clinician, person, clinician):
    save_draft(person, simple_document(item("strong_ah"), item("hum_hold")), by=clinician)
    page = as_clinician.get(url_of(person)).content.decode()
    assert page.count("from +3 dB") == 1
