"""The clinician's home page: clients by need."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.translation import gettext
from django.views.decorators.http import require_POST

from reedcore.decisions import Need, Step
from web.accounts.access import clinician_only, looking
from web.accounts.models import User
from web.clients.models import Client
from web.clinic.first_steps import first_steps
from web.keeping.epoch import recent_restore
from web.programmes.wording import SCHOOLS
from web.record.models import Decision
from web.ui.navigation import return_address

from ..board import (
    COVERED,
    SHARED,
    forbidden_programmes,
    group_by_need,
    lines_for,
    undelivered_stops,
)
from ..wording import STEPS
from .decide import undone

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest


#: Filters of the board, and the session key under which the last ones are remembered.
FILTERS = ("clinician", "school", "diagnosis")
REMEMBERED = "board_filters"


@looking
def board(request: SignedInRequest) -> HttpResponse:
    """Show the board, with filters; without one all clients of the clinic."""
    is_asked = any(name in request.GET for name in FILTERS)
    filters = request.GET if is_asked else request.session.get(REMEMBERED, {})
    clinicians = User.objects.filter(clinic=request.user.clinic, role=User.Role.CLINICIAN)
    chosen = {
        "clinician": _allowed_value(
            filters.get("clinician"), {SHARED, COVERED, *(str(user.pk) for user in clinicians)}
        ),
        "school": _allowed_value(filters.get("school"), set(SCHOOLS)),
        "diagnosis": _allowed_value(filters.get("diagnosis"), Client.Diagnosis.values),
    }
    if is_asked:
        request.session[REMEMBERED] = chosen
    lines = lines_for(
        request.user,
        now=timezone.now(),
        clinician=chosen["clinician"],
        school=chosen["school"],
        diagnosis=chosen["diagnosis"],
    )
    last = _last_decision_today(request.user)
    context = {
        "groups": group_by_need(lines),
        "total": len(lines),
        "steps": first_steps(request.user.clinic) if not lines else [],
        "needing": sum(line.need < Need.NO_PROGRAMME for line in lines),
        "waiting": sum(line.need == Need.WAITING for line in lines),
        "on_course": sum(line.need == Need.ON_COURSE for line in lines),
        "without_programme": sum(line.need == Need.NO_PROGRAMME for line in lines),
        "chosen": chosen,
        "filtered": any(chosen.values()),
        "clinicians": clinicians,
        "covers": request.user.covered_colleagues().exists(),
        "shares": request.user.shared_clients.filter(archived_at=None).exists(),
        "schools": SCHOOLS.items(),
        "diagnoses": Client.Diagnosis.choices,
        "today": timezone.localdate(),
        "undelivered": undelivered_stops(request.user),
        "restored": recent_restore(),
        "concerns": forbidden_programmes(request.user),
        "voided": request.user.visible_clients().filter(
            link_voided_at__isnull=False, archived_at=None
        ),
        "last": last,
        "last_words": STEPS[Step(last.step)] if last else "",
    }
    return render(request, "decisions/board.html", context)


def _allowed_value(text: str | None, allowed: dict[str, str] | list[str] | set[str]) -> Any:
    return text if text in allowed else ""


def _last_decision_today(user: User) -> Decision | None:
    """Return this clinician's last decision today, for undo."""
    newest = (
        Decision.objects.filter(decided_by=user, undone_at=None, client__in=user.visible_clients())
        .select_related("client")
        .order_by("-decided_at")
        .first()
    )
    fresh = newest and timezone.localdate(newest.decided_at) == timezone.localdate()
    return newest if fresh else None


@clinician_only
@require_POST
def undo_last(request: SignedInRequest) -> HttpResponse:
    """Undo this clinician's last decision of today."""
    decision = _last_decision_today(request.user)
    if decision is None:
        messages.error(request, gettext("There is no decision of today to undo."))
    else:
        undone(request, decision)
    return redirect(return_address(request, "decisions:board"))
