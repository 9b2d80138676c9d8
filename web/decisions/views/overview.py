"""The clinic's figures, for its lead."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.http import HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_GET

from web.accounts.access import lead_only
from web.ui.files import csv_response

from ..overview import OverviewRow, overview_of

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest


@lead_only
@require_GET
def overview(request: SignedInRequest) -> HttpResponse:
    """Show the clinic's figures, or return them as CSV."""
    figures = overview_of(request.user.clinic)
    today = timezone.localdate()
    if request.GET.get("form") == "csv":
        return csv_response(OverviewRow, figures.rows(), name=f"overview-{today}")
    return render(request, "decisions/overview.html", {"figures": figures, "today": today})
