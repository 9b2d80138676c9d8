"""Looking back: a client's tries over days, and the same as a file."""

from datetime import date

from django.http import HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.utils.text import slugify

from reedcore.formats.trials_csv import write_trials
from web.accounts.access import clinician_only
from web.clients.actions import mark_read
from web.clients.queries import client_seen_by
from web.programmes.queries import current_programme, held_task, note_name

from .. import presenters, queries
from ..exports import trial_row
from ..models import Decision
from ..wording import proposal_words
from .decide import proposed_for


@clinician_only
def client(request, pk):
    """What is prescribed, and how the last fortnight of it went."""
    seen = client_seen_by(request.user, pk)
    window = queries.window_ending(request.user, seen, _day(request.GET.get("until")))
    programme = current_programme(seen)
    task = held_task(programme) if programme else None
    mark_read(seen, by=request.user)
    context = {
        "client": seen,
        "programme": programme,
        "task": task,
        "note": note_name(task) if task else None,
        "window": window,
        "bed": presenters.bed(window),
        "rows": presenters.rows(window),
        "summary": presenters.summary(window),
        "next": [
            {
                "title": each.title,
                "words": proposal_words(each.proposal),
                "task": each.task.pk if each.task else "",
                "step": each.proposal.step.value,
            }
            for each in proposed_for(seen)
        ],
        "whys": Decision.Why.choices,
        "decisions": presenters.decisions(seen),
    }
    return render(request, "review/client.html", context)


@clinician_only
def tries_csv(request, pk):
    """Every try of this client, as CSV."""
    seen = client_seen_by(request.user, pk)
    trials = queries.all_trials(request.user, seen)
    lines = write_trials([trial_row(trial) for trial in trials])
    name = f"{slugify(seen.name) or 'client'}-tries-{timezone.localdate():%Y-%m-%d}.csv"
    return HttpResponse(
        "".join(lines),
        content_type="text/csv; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="{name}"'},
    )


def _day(text):
    """A day out of the address; anything else means "the newest"."""
    try:
        day = date.fromisoformat(text or "")
    except ValueError:
        return None
    return day if 2000 <= day.year < 2200 else None
