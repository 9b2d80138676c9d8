"""Pages and rows of a record, in words."""

from __future__ import annotations

from typing import Any

#: Pages of a record whose own name says too little. Lines of the access log keep the name that a
#: page had when it was opened, so names of earlier versions stay here.
PAGES = {
    "record:summary": "record",
    "clients:summary": "record",
    "clients:record": "record, changed",
    "baseline:all": "baselines",
    "baseline:sheet": "baseline sheet",
    "baseline:entries": "baseline sheet, saved",
    "baseline:typed": "baseline sheet, value typed",
    "baseline:recording": "baseline sheet, a recording",
    "baseline:simulated": "baseline sheet, the simulated voice",
    "baseline:trial": "baseline sheet, a trial",
    "baseline:close": "baseline sheet, closed",
    "baseline:calibrate": "baseline sheet, calibrated",
    "results:client": "results",
    "results:task": "results of a task",
    "programmes:compose": "programme",
    "programmes:edit": "programme, edited",
    "programmes:version": "programme, a version",
    "exports:client": "export",
    "exports:practice_json": "complete record, JSON",
    "exports:fhir_json": "health record, FHIR",
}


#: What a record holds, one and many.
BELONGS = {
    "Trial": ("trial", "trials"),
    "SelfReport": ("answer", "answers"),
    "Session": ("session", "sessions"),
    "ProgrammeVersion": ("version of a programme", "versions of the programme"),
    "Decision": ("decision", "decisions"),
    "Screen": ("screening", "screenings"),
    "Stop": ("stop", "stops"),
    "ClinicalNote": ("note", "notes"),
    "Message": ("message", "messages"),
    "Baseline": ("baseline sheet", "baseline sheets"),
    "BaselineTrial": ("baseline trial", "baseline trials"),
    "Target": ("target", "targets"),
}


def page_words(page: str) -> str:
    """What a page of a record is called in the list of who opened what."""
    return PAGES.get(page) or page.partition(":")[2].replace("_", " ") or page


def what_belongs(rows: dict[type, set[Any]]) -> list[str]:
    """What a record holds, in words: by model, its rows' keys."""
    counts = {model.__name__: len(keys) for model, keys in rows.items() if keys}
    said = [
        f"{counts[name]} {one if counts[name] == 1 else many}"
        for name, (one, many) in BELONGS.items()
        if name in counts
    ]
    others = sum(count for name, count in counts.items() if name not in BELONGS)
    return [*said, f"{others} rows of drafts, traces, history and the account"]
