"""Before a draft is handed over: what that changes for the client, and what is asked about."""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import date
from typing import TYPE_CHECKING, Any

from reedcore.dose import session_time
from reedcore.pitch import Spelling
from reedcore.programme.document import cleaned, dose_of
from reedcore.programme.plan import plans_of
from web.catalogue.queries import every_task
from web.record.programmes import current_programme, document_in_force

from .presenters import strand_name
from .queries import draft_document, edition_of
from .version_diff import differences

if TYPE_CHECKING:
    from web.clients.models import Client


def what_changes(client: Client, *, today: date) -> dict:
    """The draft against what is in force, as the question before the hand-over shows it."""
    tasks = every_task(client.clinic)
    document, _ = cleaned(draft_document(client), tasks=tasks)
    programme = current_programme(client)
    before, _ = cleaned(document_in_force(client), tasks=tasks)
    # one held sound that was prescribed by itself has no document to compare with
    compared = bool(programme and programme.document)
    return {
        "client": client,
        "edition": edition_of(client),
        "programme": programme,
        "compared": compared,
        "changes": differences(before, document, tasks=tasks, spelling=Spelling(client.spelling))
        if compared
        else [],
        "parts": [
            {
                "name": strand_name(strand),
                "tasks": len(strand.document["items"]),
                "seconds": session_time(each.part for each in plan.items).seconds,
                "dose": strand.document["dose"],
                "start": dose_of(strand.document).start,
            }
            for strand, plan in plans_of(document, tasks, cautions=client.caution_codes)
            if strand.document["items"]
        ],
        "asks": _late_starts(document, before if compared else {}, today),
    }


def _late_starts(document: dict[str, Any], before: dict[Any, Any], today: date) -> Iterator[Any]:
    """The starts that lie in the past and were not in force already: so much of each is over."""
    named = [("", document, before)]
    named += [
        (id, strand, before.get("beside", {}).get(id, {}))
        for id, strand in document.get("beside", {}).items()
    ]
    for id, part, was in named:
        dose = dose_of(part)
        if dose.start >= today or part["dose"]["kind"] == "on_demand":
            continue
        if was.get("dose", {}).get("start") == part["dose"]["start"]:
            continue
        left = math.ceil(max(0, (dose.end - today).days + 1) / 7)
        yield {
            "field": f"beside:{id}:start" if id else "start",
            "name": part.get("name", "") if id else "",
            "start": dose.start,
            "days": (today - dose.start).days,
            "weeks": dose.weeks,
            "left": left,
            "today": today.isoformat(),
        }
