"""Pages and rows of a record, in words."""

from __future__ import annotations

from typing import Any

from django.utils.translation import gettext

from web.ui.marked import Words, gettext_noop

#: Pages whose URL name is unclear. The access log keeps the names at the time, so names of earlier
#: versions stay here.
PAGES = Words(
    {
        "record:summary": gettext_noop("record"),
        "clients:summary": gettext_noop("record"),
        "clients:record": gettext_noop("record, changed"),
        "baseline:all": gettext_noop("baselines"),
        "baseline:sheet": gettext_noop("baseline sheet"),
        "baseline:entries": gettext_noop("baseline sheet, saved"),
        "baseline:typed": gettext_noop("baseline sheet, value typed"),
        "baseline:recording": gettext_noop("baseline sheet, a recording"),
        "baseline:simulated": gettext_noop("baseline sheet, the simulated voice"),
        "baseline:trial": gettext_noop("baseline sheet, a trial"),
        "baseline:close": gettext_noop("baseline sheet, closed"),
        "baseline:calibrate": gettext_noop("baseline sheet, calibrated"),
        "results:client": gettext_noop("results"),
        "results:task": gettext_noop("results of a task"),
        "programmes:compose": gettext_noop("programme"),
        "programmes:edit": gettext_noop("programme, edited"),
        "programmes:version": gettext_noop("programme, a version"),
        "exports:client": gettext_noop("export"),
        "exports:practice_json": gettext_noop("complete record, JSON"),
        "exports:fhir_json": gettext_noop("health record, FHIR"),
    }
)


#: Parts of a record, singular and plural.
BELONGS = Words(
    {
        "Trial": (gettext_noop("trial"), gettext_noop("trials")),
        "SelfReport": (gettext_noop("answer"), gettext_noop("answers")),
        "Session": (gettext_noop("session"), gettext_noop("sessions")),
        "ProgrammeVersion": (
            gettext_noop("version of a programme"),
            gettext_noop("versions of the programme"),
        ),
        "Decision": (gettext_noop("decision"), gettext_noop("decisions")),
        "Screen": (gettext_noop("screening"), gettext_noop("screenings")),
        "Stop": (gettext_noop("stop"), gettext_noop("stops")),
        "ClinicalNote": (gettext_noop("note"), gettext_noop("notes")),
        "Message": (gettext_noop("message"), gettext_noop("messages")),
        "Baseline": (gettext_noop("baseline sheet"), gettext_noop("baseline sheets")),
        "BaselineTrial": (gettext_noop("baseline trial"), gettext_noop("baseline trials")),
        "Target": (gettext_noop("target"), gettext_noop("targets")),
    }
)


def page_words(page: str) -> str:
    """Return the name of a record's page in the access log."""
    return PAGES.get(page) or page.partition(":")[2].replace("_", " ") or page


def record_contents(rows: dict[type, set[Any]]) -> list[str]:
    """Return the contents of a record in words: the keys of its rows by model."""
    counts = {model.__name__: len(keys) for model, keys in rows.items() if keys}
    contents = [
        f"{counts[name]} {one if counts[name] == 1 else many}"
        for name, (one, many) in BELONGS.items()
        if name in counts
    ]
    others = sum(count for name, count in counts.items() if name not in BELONGS)
    return [
        *contents,
        gettext("{others} rows of drafts, traces, history and the account").format(others=others),
    ]
