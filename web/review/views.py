"""Looking back: a client's tries over days, and the same as a file."""

from datetime import date

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.text import slugify
from django.views.decorators.http import require_POST

from reedcore.formats.trials_csv import write_trials
from reedcore.pitch import Spelling
from web.accounts.access import clinician_only
from web.clients.queries import client_seen_by
from web.clients.wording import BLOCKS
from web.programmes.actions import NotCleared, OpenStops
from web.programmes.queries import current_programme, held_task, note_name
from web.programmes.wording import finding_words

from . import actions, presenters, queries
from .deciding import proposals, spoken
from .exports import trial_row
from .models import Decision
from .wording import STEPS, proposal_words


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
        "next": [
            {
                "title": each.title,
                "words": proposal_words(each.proposal),
                "task": each.task.pk,
                "step": each.proposal.step.value,
            }
            for each in spoken(decided)
        ],
        "whys": Decision.Why.choices,
        "decisions": presenters.decisions(seen),
    }
    return render(request, "review/client.html", context)


@clinician_only
@require_POST
def decide(request, pk):
    """Takes or refuses what is proposed for a task, as it was shown."""
    seen = client_seen_by(request.user, pk)
    programme = current_programme(seen)
    standing = proposals(seen, programme, today=timezone.localdate()) if programme else []
    shown = (request.POST.get("task"), request.POST.get("step"))
    decided = next(
        (each for each in standing if (str(each.task.pk), each.proposal.step.value) == shown), None
    )
    why = request.POST.get("why", "")
    if decided is None:
        messages.error(request, "What was proposed has changed meanwhile. Look again.")
    elif why in Decision.Why.values:
        actions.refuse_proposal(seen, decided, by=request.user, why=why)
        messages.success(
            request, "Left as it is; it is not proposed again until there is new practice."
        )
    else:
        _accept(request, seen, decided)
    return redirect("review:client", pk=pk)


def _accept(request, client, decided):
    try:
        decision = actions.accept_proposal(client, decided, by=request.user)
    except OpenStops as refused:
        words = finding_words(refused.findings[0], spelling=Spelling(client.spelling))
        messages.error(request, f"Nothing was changed: the check stops it. {words}")
    except NotCleared as refused:
        messages.error(request, f"Nothing was changed. {BLOCKS[refused.blocks[0]]}")
    else:
        made = f" Programme {decision.made.version} is in force." if decision.made else ""
        messages.success(request, f"Decided: {STEPS[decided.proposal.step].lower()}.{made}")


@clinician_only
@require_POST
def undo(request, pk, decision):
    """Takes a decision back."""
    seen = client_seen_by(request.user, pk)
    try:
        actions.undo(get_object_or_404(seen.decisions, pk=decision))
    except actions.CannotUndo:
        messages.error(
            request,
            "It has been practised under since, or a newer version is in force. "
            "Change it in the composer.",
        )
    else:
        messages.success(request, "Taken back.")
    return redirect("review:client", pk=pk)


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
