"""Targets: proposed from the newest baseline, decided one by one or all at once."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.translation import gettext, ngettext
from django.views.decorators.http import require_POST

from reedcore.targets.proposing import Missing, TargetKind, TargetProposal
from web.accounts.access import clinician_only, looking
from web.clients.queries import client_seen_by
from web.screening.queries import blocks
from web.screening.wording import BLOCKS

from .. import actions, presenters
from ..models import Target
from ..proposals import proposals_for
from ..queries import targets_in_force
from ..target_forms import ChangeForm, changed_values
from ..wording import KINDS, MISSING, RULES

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client


@looking
def targets(request: SignedInRequest, pk: int) -> HttpResponse:
    """Show each kind of target with its proposal, reasons and decision."""
    client = client_seen_by(request.user, pk)
    return render(request, "baseline/targets.html", _context(client))


@clinician_only
@require_POST
def decide(request: SignedInRequest, pk: int) -> HttpResponse:
    """Store one decision, or accept every target that is still open."""
    client = client_seen_by(request.user, pk)
    stands = blocks(client, on=timezone.localdate())
    if stands:
        messages.error(
            request, gettext("No target was saved. {value}").format(value=BLOCKS[stands[0]])
        )
        return redirect("baseline:targets", pk=pk)
    baseline, proposals = proposals_for(client)
    offered = {k.value: p for k, p in proposals.items() if isinstance(p, TargetProposal)}
    if request.POST.get("what") == "accept_all":
        open_kinds = _undecided_kinds(client, baseline, offered)
        for kind in open_kinds:
            _accept(baseline, offered[kind], request)
        messages.success(
            request,
            ngettext(
                "{count} target accepted.", "{count} targets accepted.", len(open_kinds)
            ).format(count=len(open_kinds)),
        )
        return redirect("baseline:targets", pk=pk)
    proposal = offered.get(request.POST.get("kind", ""))
    if proposal is None:
        messages.error(
            request, gettext("The baseline has changed, so this proposal no longer applies.")
        )
        return redirect("baseline:targets", pk=pk)
    return _decide_one(request, client, baseline, proposal)


def _decide_one(
    request: SignedInRequest, client: Client, baseline: Any, proposal: TargetProposal
) -> HttpResponse:
    what = request.POST.get("what")
    if what == "accept":
        _accept(baseline, proposal, request)
        return redirect("baseline:targets", pk=client.pk)
    form = ChangeForm(request.POST, proposal=proposal, client=client, refuses=what == "refuse")
    if not form.is_valid():
        return render(
            request, "baseline/targets.html", _context(client, wrong=(proposal.kind, form))
        )
    refused = what == "refuse"
    actions.decide_target(
        baseline,
        proposal,
        by=request.user,
        decision=Target.Decision.REFUSED if refused else Target.Decision.CHANGED,
        values={} if refused else changed_values(form, proposal),
        counts="" if refused else form.cleaned_data.get("counts", ""),
        reason=form.cleaned_data["reason"],
    )
    return redirect("baseline:targets", pk=client.pk)


def _accept(baseline: Any, proposal: TargetProposal, request: SignedInRequest) -> None:
    actions.decide_target(
        baseline,
        proposal,
        by=request.user,
        decision=Target.Decision.ACCEPTED,
        values=dict(proposal.values),
        counts="total" if proposal.kind is TargetKind.HOLD else "",
    )


def _undecided_kinds(
    client: Client, baseline: Any, offered: dict[str, TargetProposal]
) -> list[Any]:
    """Return the kinds without a decision since this baseline."""
    decided = targets_in_force(client)
    return [
        kind for kind in offered if kind not in decided or decided[kind].baseline_id != baseline.pk
    ]


def _context(client: Client, wrong: Any = None) -> dict[str, Any]:
    baseline, proposals = proposals_for(client)
    decided = targets_in_force(client)
    lines = []
    for kind, proposal in proposals.items():
        made = proposal if isinstance(proposal, TargetProposal) else None
        in_force = decided.get(kind.value)
        fresh = in_force if in_force and baseline and in_force.baseline_id == baseline.pk else None
        form = None
        if made:
            form = (
                wrong[1]
                if wrong and wrong[0] is kind
                else ChangeForm(proposal=proposal, client=client)
            )
        lines.append(
            {
                "kind": kind.value,
                "name": KINDS[kind],
                "proposal": made,
                "missing": MISSING[proposal] if isinstance(proposal, Missing) else "",
                "values": presenters.target_lines(dict(made.values), client) if made else [],
                "rule": RULES[made.rule] if made else "",
                "inputs": [presenters.figure_words(n, v) for n, v in made.inputs] if made else [],
                "decided": fresh,
                "in_force": in_force,
                "in_force_values": presenters.target_lines(in_force.values, client)
                if in_force
                else [],
                "form": form,
                "wrong": bool(wrong and wrong[0] is kind),
            }
        )
    return {
        "client": client,
        "baseline": baseline,
        "lines": lines,
        "open": sum(1 for line in lines if line["proposal"] and not line["decided"]),
        "blocks": [BLOCKS[block] for block in blocks(client, on=timezone.localdate())],
    }
