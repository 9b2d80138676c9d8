"""A client's results: practice, figures, and proposals."""

from __future__ import annotations

from datetime import date, timedelta
from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.http import QueryDict
from django.shortcuts import render
from django.utils import timezone

from reedcore.decisions import Step
from reedcore.history.load import DAYS as LOAD_DAYS
from reedcore.history.load import load_of_week
from web.accounts.access import looking
from web.catalogue.queries import all_tasks
from web.clients.queries import client_seen_by
from web.decisions import presenters
from web.decisions.actions import WRITES
from web.decisions.client_status import proposal_from
from web.decisions.presenters import practice_words
from web.decisions.proposals import status_of
from web.decisions.wording import effects_of, proposal_words
from web.messages.actions import address_of
from web.record.columns import RULED
from web.record.conversation import conversation
from web.record.history import read_trials
from web.record.models import Decision
from web.record.programmes import current_programme, held_task, note_name
from web.screening.actions import mark_read
from web.screening.shown_stops import shown_stops

from ..page import SESSIONS, SPANS, ResultsQuery, results_page
from ..self_reports import microphone_check, recent_reports
from ..set_aside import set_aside_trials

if TYPE_CHECKING:
    from reedcore.progress.voice_load import VoiceLoad
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client

#: Figures from which a load is calculated.
LOADED = {name: RULED[name] for name in ("key", "task", "session", "at", "outcome")} | {
    "figures": "figures"
}


@looking
def client(request: SignedInRequest, pk: int) -> Any:
    """Show a client's practice, figures, and proposals."""
    seen = client_seen_by(request.user, pk)
    programme = current_programme(seen, with_tasks=False)
    # Prescribed before documents existed.
    task = held_task(programme) if programme and not programme.document else None
    today = timezone.now().astimezone(seen.zone).date()
    catalogue, status = all_tasks(seen.clinic), status_of(seen)
    page = results_page(seen, _parse_query(request.GET), today=today, catalogue=catalogue)
    context = {
        "client": seen,
        "tried": page is not None or seen.trials.exists(),
        "programme": programme,
        "task": task,
        "note": note_name(task) if task else None,
        "page": page,
        "practice": practice_words(status.fortnight, _load(seen, today)),
        "set_aside": set_aside_trials(seen, catalogue),
        "conversation": conversation(seen),
        "microphone": microphone_check(seen),
        "told": recent_reports(seen, catalogue, today=today),
        "next": [
            {
                "title": kept["title"],
                "words": proposal_words(proposal_from(kept)),
                "effects": effects_of(
                    proposal_from(kept),
                    kept.get("to"),
                    writes_to=address_of(seen) or "" if kept["step"] in WRITES else None,
                ),
                "task": kept["task"] or "",
                "step": kept["step"],
                "may_wait": kept["step"] != Step.STOP_AND_REFER,
            }
            for kept in status.proposed
        ],
        "stays": status.fortnight.get("stays", []),
        "stops": shown_stops(seen),
        "refusal_reasons": Decision.RefusalReason.choices,
        "decisions": presenters.decisions(seen),
    }
    response = render(request, "results/client.html", context)
    # A stop that arrived after the page was made stays unread.
    stops = [each.stop for each in context["stops"]]
    if request.user.is_clinician and any(stop.read_at is None for stop in stops):
        mark_read(stops, by=request.user)
    return response


def _load(seen: Client, today: date) -> VoiceLoad | None:
    """Return the week's measured voicing."""
    since = timezone.now() - timedelta(days=LOAD_DAYS + 1)
    rows = seen.trials.counted().filter(performed_at__gte=since, figures__has_key="cycles")
    return load_of_week(read_trials(seen, rows, LOADED), today)


def _parse_query(data: QueryDict) -> ResultsQuery:
    """Parse the address; parts that are not understood are ignored."""
    try:
        until = date.fromisoformat(data.get("until", ""))
    except ValueError:
        until = None
    try:
        trial = UUID(data.get("try", ""))
    except ValueError:
        trial = None
    by = data.get("by", "")
    return ResultsQuery(
        series=data.get("series", ""),
        by=by if by in SPANS else SESSIONS,
        line=data.get("line") == "1",
        until=until if until and 2000 <= until.year < 2200 else None,
        trial=trial,
    )
