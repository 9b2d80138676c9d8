"""The open formats: tables with their dictionary, JSON with its schema, FHIR by a library's models."""

import csv
import io
from dataclasses import fields, replace
from datetime import UTC, date, datetime

from fhir.resources.R4B.bundle import Bundle

from reedcore.formats.audit_csv import AuditRow
from reedcore.formats.client_csv import ProgrammeRow, SessionRow
from reedcore.formats.fhir import FhirPatient, FhirPlan, PrescribedActivity, bundle_of
from reedcore.formats.table_csv import write_dictionary, write_table
from reedcore.formats.trials_csv import TrialRow

NOW = datetime(2026, 11, 25, 9, 30, tzinfo=UTC)
TRY = TrialRow(
    try_id="7d8a6f2e-6c05-4a5e-9a57-9b0f1f1f6d10", performed_at=NOW, client="Wenna Astley",
    programme_version=2, task="straw_hold", note="F3", source="microphone", target_s=8.0,
    seconds_counted="total", total_s=8.4, steady_s=None, pitch_median_hz=174.1,
    pitch_error_cents=-5.2, pitch_spread_cents=12.0, pitch_drift_cents=None, on_pitch_share=0.98,
    breaks=0, level_relative_dbfs=-21.4, snr_db=38.0, outcome="met", not_judged_because="",
)  # fmt: skip
UNHEARD = replace(
    TRY, try_id="1c0f7e0c-0e6c-4f1b-8f16-4dd5b6c2c111", total_s=None, pitch_median_hz=None,
    pitch_error_cents=None, pitch_spread_cents=None, breaks=None, level_relative_dbfs=None,
    outcome="not_judged",
)  # fmt: skip
SESSION = SessionRow(
    session_id="s", client="Wenna Astley", begun_at=NOW, ended_at=None, programme_version=2,
    sort="full", voice_today="tired", place="home", ending="left", items_done=3, items_planned=9,
    tries=4, effort_mean_of_10=3.5, strain_said=False, bother_of_10=None,
    hours_since_medication=1.5, device="tablet", comments="=2+2",
)  # fmt: skip
PRESCRIBED = ProgrammeRow(
    client="Wenna Astley", programme_version=2, from_day=date(2026, 11, 1), reason="next rung",
    position=1, task="straw_hold", measure="hold", note=None, sound="oo", target_s=8.0,
    seconds_counted="total", tries=4, sessions_a_day=2, days_a_week=6,
)  # fmt: skip
PLAN = FhirPlan(
    2, date(2026, 11, 1), "Imre Halloran", 2, 6, (PrescribedActivity("1", "Straw on F3", 8.0, 4),)
)
WENNA = FhirPatient("1-7", "Wenna Astley", date(1970, 1, 5))


def read(lines):
    return list(csv.DictReader(io.StringIO("".join(lines))))


def test_sessions_and_programme_are_rows_with_units_in_their_names():
    (session,) = read(write_table(SessionRow, [SESSION]))
    assert session["begun_at"] == "2026-11-25T09:30:00+00:00"
    assert (session["ended_at"], session["bother_of_10"], session["strain_said"]) == (
        "",
        "",
        "False",
    )
    assert session["comments"] == "'=2+2"  # No spreadsheet runs it as a formula.
    (row,) = read(write_table(ProgrammeRow, [PRESCRIBED]))
    assert (row["from_day"], row["note"], row["target_s"]) == ("2026-11-01", "", "8.0")


def test_the_dictionary_tells_every_column_and_nothing_else():
    told = read(write_dictionary(AuditRow))
    assert [row["column"] for row in told] == [field.name for field in fields(AuditRow)]
    assert all(len(row["meaning"]) > 10 for row in told)
    assert {row["column"]: row["unit"] for row in told}["pitch_spread_cents"] == "cent"


def test_the_audit_row_contains_no_name_and_no_date():
    names = {field.name for field in fields(AuditRow)}
    assert not names & {"client", "name", "performed_at", "try_id", "comments", "device", "born_on"}
    assert not any("date" in str(field.type) for field in fields(AuditRow))


def test_the_bundle_validates_and_links_within_itself():
    bundle = bundle_of(WENNA, PLAN, [TRY, UNHEARD], written_at=NOW)
    checked = Bundle.model_validate(bundle)
    kinds = [entry.resource.get_resource_type() for entry in checked.entry]
    assert kinds == ["Patient", "CarePlan", "ServiceRequest", "Observation", "Observation"]
    known = {entry["fullUrl"] for entry in bundle["entry"]}
    for entry in bundle["entry"][1:]:
        assert entry["resource"]["subject"]["reference"] in known
    assert bundle["entry"][1]["resource"]["activity"][0]["reference"]["reference"] in known


def test_observations_have_ucum_units_and_a_reason_for_what_is_absent():
    *_, heard, unheard = (
        entry["resource"]
        for entry in bundle_of(WENNA, PLAN, [TRY, UNHEARD], written_at=NOW)["entry"]
    )
    assert heard["valueQuantity"] == {
        "value": 8.4, "unit": "s", "system": "http://unitsofmeasure.org", "code": "s",
    }  # fmt: skip
    parts = {
        part["code"]["coding"][0]["code"]: part["valueQuantity"] for part in heard["component"]
    }
    assert parts["pitch_median_hz"]["code"] == "Hz"
    assert parts["breaks"]["value"] == 0
    assert "steady_s" not in parts
    assert "valueQuantity" not in unheard
    assert unheard["dataAbsentReason"]["coding"][0]["code"] == "unknown"


def test_identifiers_are_stable_and_differ_between_clients():
    once = bundle_of(WENNA, PLAN, [TRY], written_at=NOW)
    assert once == bundle_of(WENNA, PLAN, [TRY], written_at=NOW)
    other = bundle_of(replace(WENNA, key="1-8"), PLAN, [TRY], written_at=NOW)
    assert once["entry"][0]["fullUrl"] != other["entry"][0]["fullUrl"]


def test_without_a_programme_there_is_no_plan():
    bundle = bundle_of(replace(WENNA, born_on=None), None, [], written_at=NOW)
    Bundle.model_validate(bundle)
    (patient,) = bundle["entry"]
    assert "birthDate" not in patient["resource"]
