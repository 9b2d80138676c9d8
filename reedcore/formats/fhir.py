"""A client's practice as a FHIR R4B bundle: plain values, to be checked by a library's models.

Patient, CarePlan (the programme in force), ServiceRequest (each of its tasks) and Observation (each
try), with units in UCUM. What was not measured has a reason for its absence, never a zero.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any
from uuid import NAMESPACE_URL, uuid5

from .trials_csv import TrialRow

UCUM = "http://unitsofmeasure.org"
CODES = "urn:still-reed:measure"
ABSENT = "http://terminology.hl7.org/CodeSystem/data-absent-reason"
SURVEY = "http://terminology.hl7.org/CodeSystem/observation-category"
Values = dict[str, Any]

#: Trial columns: name, label, unit for people and in UCUM.
FIGURES = (
    ("steady_s", "steady time", "s", "s"),
    ("target_s", "target time", "s", "s"),
    ("pitch_median_hz", "median pitch", "Hz", "Hz"),
    ("pitch_error_cents", "distance from the note", "cent", "{cent}"),
    ("pitch_spread_cents", "spread of pitch", "cent", "{cent}"),
    ("breaks", "voice breaks", "breaks", "{break}"),
    ("level_relative_dbfs", "mean level relative to full scale", "dB", "dB"),
)


@dataclass(frozen=True, slots=True)
class FhirPatient:
    """The patient of the bundle.

    Attributes:
        key: what the clinic knows them by; stays the same from bundle to bundle.
    """

    key: str
    name: str
    born_on: date | None


@dataclass(frozen=True, slots=True)
class PrescribedActivity:
    """A task of the programme in force."""

    key: str
    words: str
    target_s: float | None
    tries: int


@dataclass(frozen=True, slots=True)
class FhirPlan:
    """The programme in force; ``a_day`` and ``days`` are None for an on-demand dose."""

    version: int
    since: date
    by: str
    a_day: int | None
    days_a_week: int | None
    tasks: tuple[PrescribedActivity, ...]


def bundle_of(
    person: FhirPatient, plan: FhirPlan | None, trials: Iterable[TrialRow], *, written_at: datetime
) -> Values:
    """Return the bundle, a collection; links within it are by ``urn:uuid``."""
    patient = _urn(f"patient/{person.key}")
    entries = [(patient, _patient(person))]
    if plan:
        orders = [(_urn(f"task/{task.key}"), _order(task, plan, patient)) for task in plan.tasks]
        care = _care_plan(plan, patient, [urn for urn, _ in orders])
        entries += [(_urn(f"plan/{person.key}/{plan.version}"), care), *orders]
    entries += [(f"urn:uuid:{row.try_id}", _observation(row, patient)) for row in trials]
    return {
        "resourceType": "Bundle",
        "type": "collection",
        "timestamp": _moment(written_at),
        "entry": [{"fullUrl": urn, "resource": resource} for urn, resource in entries],
    }


def _patient(person: FhirPatient) -> Values:
    found: Values = {
        "resourceType": "Patient",
        "identifier": [{"system": "urn:still-reed:client", "value": person.key}],
        "name": [{"text": person.name}],
    }
    if person.born_on:
        found["birthDate"] = person.born_on.isoformat()
    return found


def _order(task: PrescribedActivity, plan: FhirPlan, patient: str) -> Values:
    found: Values = {
        "resourceType": "ServiceRequest",
        "status": "active",
        "intent": "order",
        "subject": {"reference": patient},
        "code": {"text": task.words},
        "authoredOn": plan.since.isoformat(),
        "requester": {"display": plan.by},
        "quantityQuantity": _quantity(task.tries, "tries a session", "{try}"),
    }
    if plan.a_day and plan.days_a_week:
        repeat = {"frequency": plan.a_day * plan.days_a_week, "period": 1, "periodUnit": "wk"}
        found["occurrenceTiming"] = {"repeat": repeat}
    if task.target_s is not None:
        found["note"] = [{"text": f"Hold for {task.target_s:g} s"}]
    return found


def _care_plan(plan: FhirPlan, patient: str, orders: list[str]) -> Values:
    return {
        "resourceType": "CarePlan",
        "status": "active",
        "intent": "plan",
        "title": f"Voice practice at home, programme {plan.version}",
        "subject": {"reference": patient},
        "period": {"start": plan.since.isoformat()},
        "activity": [{"reference": {"reference": order}} for order in orders],
    }


def _observation(row: TrialRow, patient: str) -> Values:
    on = f" on {row.note}" if row.note else ""
    found: Values = {
        "resourceType": "Observation",
        "status": "final",
        "category": [{"coding": [{"system": SURVEY, "code": "therapy"}]}],
        "code": {
            "coding": [{"system": CODES, "code": "time-sounded", "display": "time sounded"}],
            "text": f"{row.task}{on}",
        },
        "subject": {"reference": patient},
        "effectiveDateTime": _moment(row.performed_at),
        "method": {"text": row.source},
        "interpretation": [{"text": row.outcome}],
    }
    if row.total_s is None:
        found["dataAbsentReason"] = {"coding": [{"system": ABSENT, "code": "unknown"}]}
    else:
        found["valueQuantity"] = _quantity(row.total_s, "s", "s")
    parts = [
        {
            "code": {"coding": [{"system": CODES, "code": name, "display": words}]},
            "valueQuantity": _quantity(getattr(row, name), unit, ucum),
        }
        for name, words, unit, ucum in FIGURES
        if getattr(row, name) is not None
    ]
    if parts:
        found["component"] = parts
    return found


def _quantity(value: float, unit: str, ucum: str) -> Values:
    return {"value": value, "unit": unit, "system": UCUM, "code": ucum}


def _urn(name: str) -> str:
    return f"urn:uuid:{uuid5(NAMESPACE_URL, f'still-reed/{name}')}"


def _moment(at: datetime) -> str:
    return at.isoformat(timespec="seconds")
