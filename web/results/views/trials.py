"""A clinician decides whether a trial counts."""

from __future__ import annotations

from uuid import UUID

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.utils.translation import gettext
from django.views.decorators.http import require_POST

from web.accounts.access import clinician_only
from web.accounts.requests import SignedInRequest
from web.clients.queries import client_seen_by
from web.ui.navigation import return_address

from ..actions import review_trial


@clinician_only
@require_POST
def count_trial(request: SignedInRequest, pk: int, trial: UUID) -> HttpResponse:
    """Count a trial that was set aside."""
    return _review(request, pk, trial, is_counted=True)


@clinician_only
@require_POST
def leave_out_trial(request: SignedInRequest, pk: int, trial: UUID) -> HttpResponse:
    """Leave a trial out of every share and every best."""
    return _review(request, pk, trial, is_counted=False)


def _review(request: SignedInRequest, pk: int, trial: UUID, *, is_counted: bool) -> HttpResponse:
    client = client_seen_by(request.user, pk)
    review_trial(get_object_or_404(client.trials, pk=trial), by=request.user, is_counted=is_counted)
    messages.success(
        request,
        gettext("The trial counts again.")
        if is_counted
        else gettext("The trial no longer counts. It is listed under “Trials that do not count”."),
    )
    return redirect(return_address(request, "results:client", pk=pk))
