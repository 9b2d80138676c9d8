"""Looking back: a client's tries over days, and the same as a file."""

from datetime import date

from django.http import HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.utils.text import slugify

from reedcore.formats.trials_csv import write_trials
from web.accounts.access import clinician_only
from web.clients.queries import client_seen_by
from web.programmes.queries import current_programme, held_task, note_name

from . import presenters, queries
from .deciding import proposals, spoken
from .exports import trial_row
from .wording import proposal_words


@clinician_only
def client(request, pk):
    """What is prescribed, and how the last fortnight of it went."""
    seen = client_seen_by(request.user, pk)
    window = queries.window_ending(request.user, seen, _day(request.GET.get("until")))
    programme = current_programme(seen)
    task = held_task(programme) if programme else None
    decided = proposals(seen, programme, today=timezone.localdate()) if programme else []
    context = {
        "client": seen,
        "programme": programme,
        "task": task,
        "note": note_name(task) if task else None,
        "window": window,
        "bed": presenters.bed(window),
        "rows": presenters.rows(window),
        "summary": presenters.summary(window),
        "next": [(each.title, proposal_words(each.proposal)) for each in spoken(decided)],
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
