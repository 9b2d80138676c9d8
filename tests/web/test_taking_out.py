"""Exports of a clinic: files for others, and a de-identified one."""

import csv
import io
import json
from datetime import timedelta

import jsonschema
import pytest
from django.urls import reverse
from django.utils import timezone
from fhir.resources.R4B.bundle import Bundle

from reedcore.history import file
from tests.factories import ClientFactory, ClinicianFactory, prescribe, trial
from tests.pages import read
from tests.web.test_deciding import practise, report, sat
from tests.web.test_looking_back import moment_at
from web.notes.drafts import draft_note
from web.notes.facts import facts_of
from web.record.models import Trial


def downloaded(as_clinician, person, name):
    response = as_clinician.get(reverse(f"exports:{name}", args=[person.pk]))
    assert response.status_code == 200
    assert "tamsin-orrell-" in response["Content-Disposition"]
    return response.content.decode()


def rows(text):
    return list(csv.DictReader(io.StringIO(text)))


def test_the_csv_holds_every_trial_of_this_client_alone(
    as_clinician, person, task, clinic, clinician
):
    trial(task, performed_at=moment_at(3), total_s=14.2, steady_s=None, error_cents=-31.25)
    trial(prescribe(ClientFactory(clinic=clinic), by=clinician))
    (row,) = rows(downloaded(as_clinician, person, "tries_csv"))
    assert row["performed_at"] == "2026-11-03T18:00:00+00:00"
    assert (row["total_s"], row["steady_s"], row["pitch_error_cents"]) == ("14.2", "", "-31.25")
    assert (row["note"], row["target_s"], row["client"]) == ("F3", "5.0", "Tamsin Orrell")


def test_sessions_are_exported_with_the_clients_answers(as_clinician, person, prescribed):
    session = sat(prescribed, 2, "yyn", effort=4)
    report(session, "strain", {"said": True, "where": "jaw"})
    report(session, "comment", "=cmd()")
    sat(prescribed, 1, "", effort=None, ending="left")
    first, second = rows(downloaded(as_clinician, person, "sessions_csv"))
    assert (first["tries"], first["effort_mean_of_10"], first["strain_said"]) == (
        "3",
        "4.0",
        "True",
    )
    assert first["comments"] == "'=cmd()"
    assert (second["tries"], second["effort_mean_of_10"], second["ending"]) == ("0", "", "left")


def test_the_programme_comes_version_by_version(as_clinician, person, prescribed, clinician):
    prescribe(person, by=clinician, note_midi=None, target_s=6.0)
    first, second = rows(downloaded(as_clinician, person, "programme_csv"))
    assert (first["task"], first["note"], first["sessions_a_day"]) == ("straw_hold", "F3", "1")
    assert (second["programme_version"], second["note"], second["days_a_week"]) == ("2", "", "")


def test_the_json_keeps_to_the_published_schema(as_clinician, person, prescribed):
    practise(prescribed, days=range(3, 0, -1))
    trial(prescribed.tasks.get(), total_s=None, outcome=Trial.Outcome.NOT_JUDGED)
    made = json.loads(downloaded(as_clinician, person, "practice_json"))
    schema = as_clinician.get(reverse("exports:practice_schema")).json()
    assert schema == file.schema()
    jsonschema.Draft202012Validator(schema).validate(made)
    assert (len(made["sessions"]), len(made["trials"])) == (3, 13)


def test_the_bundle_validates_and_holds_the_programme_and_every_trial(
    as_clinician, person, prescribed
):
    practise(prescribed, days=range(3, 0, -1))
    bundle = Bundle.model_validate_json(downloaded(as_clinician, person, "fhir_json"))
    kinds = [entry.resource.get_resource_type() for entry in bundle.entry]
    assert kinds[:3] == ["Patient", "CarePlan", "ServiceRequest"]
    assert kinds.count("Observation") == 12
    order = bundle.entry[2].resource
    assert order.occurrenceTiming.repeat.frequency == 7
    assert order.code.text == "Straw in air, one note on F3"


def test_every_file_can_be_taken_before_anything_was_practised(as_clinician, person):
    for name in ("tries_csv", "sessions_csv", "programme_csv", "practice_json", "fhir_json"):
        downloaded(as_clinician, person, name)
    assert (
        "0 trials" in as_clinician.get(reverse("exports:client", args=[person.pk])).content.decode()
    )


@pytest.fixture
def alike(person, prescribed, clinic, clinician):
    """Five similar clients, one with three weeks of practice; and Tamsin, who differs."""
    practise(prescribed, days=range(4, 0, -1))
    traits = {"clinic": clinic, "diagnosis": "neuro", "age_band": "40-59", "voice": "bass"}
    others = [ClientFactory(name=f"Bram Okonjo-Hale {n}", **traits) for n in range(5)]
    for other in others:
        task = prescribe(other, by=clinician)
        trial(task, performed_at=timezone.now() - timedelta(days=2), total_s=7.34)
        trial(task, role="poor", total_s=1.0)
    for days in (15, 8):
        trial(task, performed_at=timezone.now() - timedelta(days=days))
    trial(prescribe(ClientFactory(), by=ClinicianFactory()), total_s=77.0)
    return person, others


def audit(as_clinician, **asked):
    response = as_clinician.get(reverse("exports:without_names"), asked)
    if response.status_code != 200 or not response.streaming:
        return response
    return b"".join(response.streaming_content).decode()


def since(days):
    today = timezone.localdate()
    return {"first": today - timedelta(days=days), "last": today}


def test_the_file_without_names_has_none(as_clinician, alike):
    text = audit(as_clinician, **since(30))
    for word in (
        "Tamsin",
        "Orrell",
        "Bram",
        "Okonjo",
        str(timezone.localdate().year),
        "77.0",
        "7.34",
    ):
        assert word not in text
    found = rows(text)
    assert len(found) == 7  # Tamsin would be alone in her group.
    by_person = {}
    for row in found:
        by_person.setdefault(row["person"], []).append(row)
    assert set(by_person) == {"1", "2", "3", "4", "5"}
    long = max(by_person.values(), key=len)
    assert [row["week"] for row in long] == ["0", "1", "1"]
    assert (long[0]["diagnosis"], long[0]["voice"], long[0]["age_band"]) == (
        "neuro",
        "bass",
        "40-59",
    )
    assert {row["total_s"] for row in found} >= {"7.5"}


def test_identifying_values_are_withheld_and_the_page_says_so(as_clinician, alike, clinic):
    _, others = alike
    url = reverse("exports:without_names")
    page = read(as_clinician.get(url))
    assert "5 people can be included for these days. 0 of them with fewer details" in page
    assert "1 is left out." in page
    for other in others[:2]:  # A group of three is too small.
        other.diagnosis = "tension"
        other.save()
    assert {row["diagnosis"] for row in rows(audit(as_clinician, **since(30)))} == {""}
    assert "5 of them with fewer details" in read(as_clinician.get(url))


def test_no_file_is_made_of_fewer_than_five(as_clinician, person, prescribed):
    practise(prescribed, days=range(4, 0, -1))
    answer = audit(as_clinician, **since(30))
    assert "No file can be made for these days:" in read(answer)


def test_people_are_numbered_anew_in_each_file(as_clinician, alike, monkeypatch):
    def order(**how):
        key = "secrets.SystemRandom.shuffle"
        monkeypatch.setattr(key, lambda self, items: items.sort(key=str, **how))
        found = rows(audit(as_clinician, **since(30)))
        return [row["person"] for row in found]

    # The client with three tries is the last by name.
    assert order() == ["1", "2", "3", "4", "5", "5", "5"]
    assert order(reverse=True) == ["1", "1", "1", "2", "3", "4", "5"]


def test_the_export_contains_only_the_chosen_days(as_clinician, alike):
    assert len(rows(audit(as_clinician, **since(3)))) == 5


def test_impossible_days_are_reported(as_clinician, alike):
    response = audit(as_clinician, first="2026-11-20", last="2026-11-01")
    assert response.status_code == 400
    assert "The last day is before the first." in response.content.decode()
    assert (
        "Enter the first day" in audit(as_clinician, first="x", last="2026-11-01").content.decode()
    )


@pytest.mark.parametrize("day", ["0001-01-01", "9999-12-31", "", "2026-02-30"])
def test_the_ends_of_the_calendar_are_no_days(as_clinician, alike, day):
    response = audit(as_clinician, first=day, last=day)
    assert response.status_code == 400
    assert "Enter the first day like 2026-11-25." in response.content.decode()


def test_the_dictionary_goes_with_it(as_clinician):
    response = as_clinician.get(reverse("exports:without_names_columns"))
    told = rows(response.content.decode())
    assert {"column", "type", "unit", "meaning"} == set(told[0])
    assert told[0]["column"] == "person"


def test_reported_results_reach_results_notes_and_files(as_clinician, person, prescribed):
    session = sat(prescribed, 1, "")
    task = prescribed.tasks.get()
    trial(
        task, session=session, source=Trial.Source.TOLD, total_s=None, figures={"breaths": 6},
        outcome=Trial.Outcome.NOT_JUDGED, performed_at=session.begun_at,
    )  # fmt: skip
    report(session, "felt", "not_sure", task=task)
    report(session, "breath", "ran_out", task=task)
    report(session, "depth", 3.5, task=task)
    page = as_clinician.get(reverse("results:client", args=[person.pk])).content.decode()
    assert "Done: 6 breaths." in page
    for words in ("not sure whether felt", "ran out of air early", "3.5 cm deep"):
        assert words in page
    (row,) = rows(downloaded(as_clinician, person, "tries_csv"))
    assert (row["breaths"], row["repetitions"]) == ("6", "")
    (row,) = rows(downloaded(as_clinician, person, "sessions_csv"))
    assert (row["felt"], row["after_breath"], row["depth_cm"]) == ("not_sure", "ran_out", "3.5")
    made = json.loads(downloaded(as_clinician, person, "practice_json"))
    assert made["trials"][0]["figures"] == {"breaths": 6}
    assert {each["kind"] for each in made["reports"]} >= {"felt", "breath", "depth"}
    day = timezone.localdate(session.begun_at, timezone=person.zone)
    words = "\n".join(draft_note("progress", facts_of(person, first=day, last=day)).values())
    assert "on 1 day: Done: 6 breaths." in words
