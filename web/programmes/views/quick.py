"""Prescribe a single held sound."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.translation import gettext

from reedcore.checks import Severity
from reedcore.pitch import Spelling
from web.accounts.access import clinician_only
from web.clients.queries import client_seen_by
from web.record.programmes import current_task, note_name
from web.screening.queries import blocks
from web.screening.wording import BLOCKS

from ..actions import NotCleared, OpenStops, publish_programme
from ..forms import HoldForm
from ..wording import LEVELS, finding_words

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client
    from web.record.models import PrescribedTask

#: Prefix of the fields that hold a reason; the finding's key follows.
WHY = "why:"


@clinician_only
def prescribe(request: SignedInRequest, pk: int) -> HttpResponse:
    """Show the form for one task of this client, starting from the one in force."""
    client = client_seen_by(request.user, pk)
    task = current_task(client)
    before = {"note": note_name(task), **_initial_fields(task)} if task else {}
    form = HoldForm(request.POST or None, initial=before)
    if request.method == "POST" and form.is_valid():
        prescribed = form.save(commit=False)
        whys = {
            name.removeprefix(WHY): str(why).replace("\x00", "").strip()[:500]
            for name, why in request.POST.items()
            if name.startswith(WHY)
        }
        try:
            programme = publish_programme(client, by=request.user, task=prescribed, overrules=whys)
        except NotCleared as refused:
            context = _context(client, form, task, refused.blocks)
            return render(request, "programmes/prescribe.html", context, status=409)
        except OpenStops as refused:
            context = _context(client, form, task, ()) | {
                "findings": _findings_with_reasons(client, refused, whys)
            }
            return render(request, "programmes/prescribe.html", context, status=409)
        messages.success(
            request,
            gettext("Programme {version} is now in force.").format(version=programme.version),
        )
        return redirect("results:client", pk=client.pk)
    stands = blocks(client, on=timezone.localdate())
    return render(request, "programmes/prescribe.html", _context(client, form, task, stands))


def _context(
    client: Client, form: HoldForm, task: PrescribedTask | None, stands: tuple[Any, ...]
) -> dict[str, Any]:
    return {
        "client": client,
        "form": form,
        "current": task,
        "blocks": [BLOCKS[block] for block in stands],
    }


def _findings_with_reasons(
    client: Client, refused: OpenStops, whys: dict[str, Any]
) -> list[dict[str, str]]:
    """Return the findings of the check, each stop with the reason given so far."""
    spelling = Spelling(client.spelling)
    look = refused.look
    return [
        {
            "level": each.level.value,
            "title": LEVELS[each.level.value],
            "words": finding_words(each, spelling=spelling),
            "name": WHY + key if each.level is Severity.STOP else "",
            "why": whys.get(key, ""),
        }
        for each, key in zip(look.findings, look.keys, strict=True)
        if each.level is not Severity.HINT
    ]


def _initial_fields(task: PrescribedTask) -> dict[str, Any]:
    return {
        **{name: getattr(task, name) for name in HoldForm.Meta.fields},
        "target_s": f"{task.target_s:g}",
    }
