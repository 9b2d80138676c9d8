"""One held sound by itself."""

from django.contrib import messages
from django.shortcuts import redirect, render
from django.utils import timezone

from web.accounts.access import clinician_only
from web.clients.queries import blocks, client_seen_by, newest_screen
from web.clients.wording import BLOCKS

from ..actions import NotCleared, publish_programme
from ..forms import HoldForm
from ..queries import current_task, note_name


@clinician_only
def prescribe(request, pk):
    """One task for this client; what is in force now is where the form starts."""
    client = client_seen_by(request.user, pk)
    task = current_task(client)
    before = {"note": note_name(task), **_fields_of(task)} if task else {}
    form = HoldForm(request.POST or None, initial=before)
    if request.method == "POST" and form.is_valid():
        try:
            programme = publish_programme(client, by=request.user, task=form.save(commit=False))
        except NotCleared as refused:
            context = _context(client, form, task, refused.blocks)
            return render(request, "programmes/prescribe.html", context, status=409)
        messages.success(request, f"Programme {programme.version} is in force from now on.")
        return redirect("review:client", pk=client.pk)
    stands = blocks(client, on=timezone.localdate())
    return render(request, "programmes/prescribe.html", _context(client, form, task, stands))


def _context(client, form, task, stands):
    return {
        "client": client,
        "form": form,
        "current": task,
        "blocks": [BLOCKS[block] for block in stands],
        "screened": newest_screen(client) is not None,
    }


def _fields_of(task):
    return {
        **{name: getattr(task, name) for name in HoldForm.Meta.fields},
        "target_s": f"{task.target_s:g}",
    }
