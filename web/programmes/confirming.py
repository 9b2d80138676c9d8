"""Before publishing: the changes for the client, and the questions to confirm."""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import date
from typing import TYPE_CHECKING, Any

from reedcore.dose import session_time
from reedcore.pitch import Spelling
from reedcore.programme.document import clean_document
from reedcore.programme.document_values import programme_from
from reedcore.programme.plan import plans_of
from reedcore.programme.strands import strands_of
from web.catalogue.queries import all_tasks
from web.record.programmes import current_programme

from .presenters import strand_name
from .queries import draft_document, edition_of
from .version_diff import differences

if TYPE_CHECKING:
    from reedcore.programme.programme import Programme
    from web.clients.models import Client


def draft_changes(client: Client, *, today: date) -> dict:
    """Return the draft's changes to the version in force, as the question before publishing shows
    them."""
    tasks = all_tasks(client.clinic)
    prescribed = programme_from(clean_document(draft_document(client), tasks=tasks)[0])
    programme = current_programme(client)
    # A single held sound has no document to compare with.
    before = None
    if programme and programme.document:
        before = programme_from(clean_document(programme.document, tasks=tasks)[0])
    return {
        "client": client,
        "edition": edition_of(client),
        "programme": programme,
        "compared": before is not None,
        "changes": differences(before, prescribed, tasks=tasks, spelling=Spelling(client.spelling))
        if before is not None
        else [],
        "parts": [
            {
                "name": strand_name(strand),
                "tasks": len(strand.programme.items),
                "seconds": session_time(each.part for each in plan.items).seconds,
                "dose": strand.programme.dose,
            }
            for strand, plan in plans_of(prescribed, tasks, cautions=client.caution_codes)
            if strand.programme.items
        ],
        "asks": _late_starts(prescribed, before, today),
    }


def _late_starts(
    prescribed: Programme, before: Programme | None, today: date
) -> Iterator[dict[str, Any]]:
    """Yield start dates in the past that were not in force already: part of their weeks
    is over."""
    stood = {each.id: each.programme.dose for each in strands_of(before)} if before else {}
    for strand in strands_of(prescribed):
        dose = strand.programme.dose
        if dose.start >= today or not strand.is_dated:
            continue
        if strand.id in stood and stood[strand.id].start == dose.start:
            continue
        left = math.ceil(max(0, (dose.end - today).days + 1) / 7)
        yield {
            "field": f"beside:{strand.id}:start" if strand.id else "start",
            "name": strand.name,
            "start": dose.start,
            "days": (today - dose.start).days,
            "weeks": dose.weeks,
            "left": left,
            "today": today.isoformat(),
        }
