"""The four starting programmes, filled in from the client's targets."""

import json
from datetime import timedelta

import pytest
from django.utils import timezone

from reedcore.catalogue.tasks import shipped_tasks
from reedcore.cli.commands import main
from reedcore.history import file
from reedcore.programme.document_values import programme_document
from reedcore.programme.file_format import programme_file
from reedcore.programme.starting import ClientFigures, starting_programme, starting_programmes
from tests.web.test_composer import send
from web.baseline.models import Target
from web.exports.whole import whole_file
from web.programmes.actions import publish_document
from web.record.figures import client_figures
from web.record.programmes import target_of


@pytest.mark.parametrize("code", starting_programmes())
def test_a_starting_programme_is_filled_in_and_stops_nothing(
    as_clinician, measured, clinician, code
):
    assert send(as_clinician, measured, {"do": "start", "code": code}).json()["not_made"] == []
    document = measured.draft.document
    assert any(each["short"] for each in document["items"])
    assert publish_document(measured, document, by=clinician).version == 1
    if code == "block":
        power = next(each for each in document["items"] if each["task"] == "block_power")
        assert power["notes"] == [48, 50, 52, 53, 55]
        assert (power["params"]["seconds"], power["ceiling"]) == (14.0, 3.0)
    if code == "loud":
        strong = next(each for each in document["items"] if each["task"] == "strong_ah")
        assert (strong["floor"], strong["ceiling"]) == (6.0, 16.0)


def test_every_accepted_target_is_prescribed_in_the_tasks(measured, clinician):
    for kind, values in (
        ("steadiness", {"spread_cents": 30.0, "level_spread_db": 2.0, "end_fall_db": 3.0}),
        ("talk_level", {"floor_db": -3.0, "ceiling_db": 3.0}),
    ):
        Target.objects.create(
            client=measured, baseline=measured.baselines.get(), kind=kind, rule="comfort_band",
            decision="accepted", values=values, proposed={}, inputs={},
            decided_at=timezone.now(), decided_by=clinician,
        )  # fmt: skip
    made = {
        code: starting_programme(
            code, client_figures(measured), shipped_tasks(), today=timezone.localdate()
        )
        for code in ("block", "warm_up")
    }
    power = next(each for each in made["block"].items if each.task == "block_power")
    assert power.limits == {"spread_cents": 30.0, "level_spread_db": 2.0, "end_fall_db": 3.0}
    spoken = next(each for each in made["warm_up"].items if each.task == "twisters")
    assert (spoken.floor, spoken.ceiling) == (-3.0, 3.0)
    programme = publish_document(measured, programme_document(made["block"]), by=clinician)
    target = target_of(programme.tasks.filter(task_code="block_power").first())
    assert (target.spread_cents, target.level_spread_db, target.end_fall_db) == (30.0, 2.0, 3.0)


def test_a_starting_programme_leaves_out_what_the_clinic_hides(measured):
    tasks = {code: task for code, task in shipped_tasks().items() if code != "belly_hand"}
    made = starting_programme("block", ClientFigures(), tasks, today=timezone.localdate())
    assert "belly_hand" not in {each.task for each in made.items}


@pytest.mark.parametrize("code", starting_programmes())
def test_the_command_line_starts_the_same_programme_from_the_clients_file(
    measured, tmp_path, capsys, code
):
    record = tmp_path / "record.json"
    record.write_bytes(file.write_practice_file(whole_file(measured)))
    today = timezone.localdate()
    assert main(["start", code, "--record", str(record), "--today", today.isoformat()]) == 0
    here = starting_programme(code, client_figures(measured), shipped_tasks(), today=today)
    assert json.loads(capsys.readouterr().out) == programme_file(programme_document(here))


@pytest.mark.parametrize("code", starting_programmes())
def test_a_starting_programme_for_a_child_fits_a_childs_session(
    as_clinician, measured, clinician, code
):
    measured.born_on = timezone.localdate() - timedelta(days=10 * 366)
    measured.grown_up = "Jory Orrell, father"
    measured.save()
    assert send(as_clinician, measured, {"do": "start", "code": code}).json()["not_made"] == []
    document = measured.draft.document
    assert document["items"]
    assert publish_document(measured, document, by=clinician).version == 1
    assert all((each["ceiling"] or 0) <= 10 for each in document["items"])
