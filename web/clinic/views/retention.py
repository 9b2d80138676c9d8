"""Pages of the lead: the access log and the erasure of records."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.translation import gettext
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from web.accounts.access import lead_only
from web.accounts.access_log import access_log_entries
from web.accounts.models import AccessLogEntry, User
from web.accounts.second.reauthentication import asked_again
from web.clients.actions.erasing import NotErasable, plan_erasure, rows_of_client, take_back
from web.clients.models import Erasure
from web.clients.queries import client_seen_by
from web.ui.dates import full_day
from web.ui.files import csv_response

from ..access_log_file import AccessLogRow, access_log_rows
from ..wording import page_words, record_contents

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client

PER_PAGE = 100
MOST_EXPORTED = 200_000


@lead_only
@require_GET
def access_log_page(request: SignedInRequest) -> HttpResponse:
    """Show the access log (records opened, printed, exported, changed) as a page or a file."""
    clinic = request.user.clinic
    filters = {name: request.GET.get(name, "") for name in ("by", "record", "kind")}
    lines = access_log_entries(clinic, **filters)
    names = dict(clinic.clients.values_list("pk", "name"))
    if request.GET.get("form") == "csv":
        rows = access_log_rows(lines[:MOST_EXPORTED], names)
        return csv_response(AccessLogRow, rows, name="access-log")
    page = Paginator(lines, PER_PAGE).get_page(request.GET.get("page"))
    for line in page:
        line.name = names.get(
            line.record, gettext("erased, number {record}").format(record=line.record)
        )
        line.words = page_words(line.page)
    context = {
        "page": page,
        "asked": filters,
        "kinds": AccessLogEntry.Kind.choices,
        "people": clinic.users.filter(role=User.Role.CLINICIAN),
        "clients": sorted(names.items(), key=lambda each: each[1].casefold()),
    }
    return render(request, "clinic/opened.html", context)


@lead_only
@asked_again
@require_http_methods(["GET", "POST"])
def erase(request: SignedInRequest, pk: int) -> HttpResponse:
    """Ask for confirmation and plan an erasure; it can be cancelled until it is due."""
    client = client_seen_by(request.user, pk)
    waiting = _planned_erasure(client)
    if request.method == "POST" and waiting is None:
        why, name = (request.POST.get(each, "").replace("\x00", "") for each in ("why", "name"))
        try:
            planned = plan_erasure(client, by=request.user, why=why, name=name)
        except NotErasable as refused:
            messages.error(request, str(refused))
        else:
            on = timezone.localtime(planned.due_at)
            words = gettext(
                "All data about {client} will be erased on {on}, unless you cancel it."
            ).format(client=client, on=full_day(on))
            messages.success(request, words)
            return redirect("clinic:erase", pk=pk)
    context = {
        "client": client,
        "waiting": waiting,
        "counts": record_contents(rows_of_client(client)),
        "typed": request.POST.get("why", ""),
    }
    return render(request, "clinic/erase.html", context)


@lead_only
@require_POST
def keep(request: SignedInRequest, pk: int) -> HttpResponse:
    """Cancel a planned erasure."""
    client = client_seen_by(request.user, pk)
    waiting = _planned_erasure(client)
    if waiting is None:
        raise Http404
    take_back(waiting, by=request.user)
    messages.success(
        request, gettext("The erasure of {client} is cancelled.").format(client=client)
    )
    return redirect("record:summary", pk=pk)


def _planned_erasure(client: Client) -> Erasure | None:
    return Erasure.objects.filter(record=client.pk, cancelled_at=None, done_at=None).first()


@lead_only
@require_GET
def erasures_page(request: SignedInRequest) -> HttpResponse:
    """Show erased records, and planned erasures."""
    erasures = request.user.clinic.erasures.select_related("asked_by")
    return render(request, "clinic/erased.html", {"lines": erasures})
