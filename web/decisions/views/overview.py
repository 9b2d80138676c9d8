"""The clinic's figures, for its lead."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.http import HttpResponse, StreamingHttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_GET

from reedcore.formats.table_csv import write_table
from web.accounts.access import lead_only

from ..overview import OverviewRow, overview_of

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest


@lead_only
@require_GET
def overview(request: SignedInRequest) -> HttpResponse | StreamingHttpResponse:
    """Show the clinic's figures, or return them as CSV."""
    figures = overview_of(request.user.clinic)
    today = timezone.localdate()
    if request.GET.get("form") == "csv":
        response = StreamingHttpResponse(
            write_table(OverviewRow, figures.rows()), content_type="text/csv; charset=utf-8"
        )
        response["Content-Disposition"] = f'attachment; filename="overview-{today}.csv"'
        return response
    return render(request, "decisions/overview.html", {"figures": figures, "today": today})
