"""The list of clients, the record, and a client's way in."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.translation import gettext
from django.views.decorators.http import require_http_methods, require_POST

from web.accounts.access import clinician_only, working_here

from .. import actions
from ..caution_lines import cautions_of
from ..forms import RecordForm
from ..models import Client
from ..queries import client_seen_by, found_clients
from ..wording import PROPS

if TYPE_CHECKING:
    from web.accounts.models import User
    from web.accounts.requests import SignedInRequest

PER_PAGE = 50


@working_here
@require_http_methods(["GET", "HEAD", "POST"])
def client_list(request: HttpRequest) -> HttpResponse:
    """Show this user's clients by name; the search is a form, so that no address contains a
    name."""
    data = request.POST if request.method == "POST" else request.GET
    words = request.POST.get("find", "").replace("\x00", "")[:100]
    archived = data.get("archived") == "1"
    found = found_clients(request.user, words, is_archived=archived)
    page = Paginator(found, PER_PAGE).get_page(data.get("page"))
    if words and page.paginator.count == 1:
        return redirect("results:client", pk=page.object_list[0].pk)
    context = {"page": page, "words": words, "archived": archived}
    return render(request, "clients/list.html", context)


@clinician_only
def new(request: SignedInRequest) -> HttpResponse:
    """Return a new record; the screen comes next."""
    form = RecordForm(
        request.POST or None,
        instance=_fresh(request.user),
        seen=request.user.visible_clients(),
    )
    if request.method == "POST" and form.is_valid():
        client = actions.begin_record(form.save(commit=False))
        messages.success(
            request, gettext("{client} was added. Start with the screening.").format(client=client)
        )
        return redirect("screening:screen", pk=client.pk)
    return render(request, "clients/record_form.html", {"form": form})


def _fresh(user: User) -> Client:
    return Client(clinic=user.clinic, clinician=user)


@clinician_only
def record(request: SignedInRequest, pk: int) -> HttpResponse:
    """Change the record. If it was changed meanwhile, say so and keep the input."""
    client = client_seen_by(request.user, pk)
    context = {"client": client, "cautions": cautions_of(client)}
    form = RecordForm(
        request.POST or None,
        instance=client,
        initial={"edition": client.edition},
        seen=request.user.visible_clients(),
    )
    if request.method == "POST" and form.is_valid():
        try:
            actions.save_record(
                form.save(commit=False),
                fields=[name for name in form.changed_data if name in form.Meta.fields],
                edition=form.cleaned_data["edition"] or 0,
                by=request.user,
            )
        except actions.RecordChanged as outdated:
            return _edit_conflict(request, form, outdated.current, context)
        except actions.NotOwner:
            form.add_error(
                "clinician",
                gettext(
                    "Only the client’s clinician or the clinic lead can change the clinician. "
                    "Nothing was saved."
                ),
            )
            return render(request, "clients/record_form.html", {"form": form, **context})
        messages.success(request, gettext("The record is saved."))
        return redirect("record:summary", pk=pk)
    return render(request, "clients/record_form.html", {"form": form, **context})


def _edit_conflict(
    request: SignedInRequest, form: RecordForm, current: Client, context: Any
) -> HttpResponse:
    """Return the page with all input, next to the values that the other user saved."""
    newest = current.history.select_related("history_user").first()
    theirs = []
    for name in form.Meta.fields:
        mine, stored = form.cleaned_data.get(name), getattr(current, name)
        if (mine or None) != (stored or None):
            label = form.fields[name].label or name
            theirs.append({"label": label, "stored": _display_value(current, name, stored)})
    data = request.POST.copy()
    data["edition"] = str(current.edition)  # Saving again then overwrites on purpose.
    again = RecordForm(data, instance=current, seen=request.user.visible_clients())
    again.is_valid()
    context |= {"form": again, "client": current, "theirs": theirs, "newest": newest}
    return render(request, "clients/record_form.html", context, status=409)


def _display_value(client: Client, name: str, value: str) -> str:
    if name == "props":
        return ", ".join(PROPS.get(code, code) for code in value)
    display = getattr(client, f"get_{name}_display", None)
    return display() if display else value


@clinician_only
@require_POST
def archive(request: SignedInRequest, pk: int) -> HttpResponse:
    """Archive the client, with a link to undo it."""
    client = client_seen_by(request.user, pk)
    actions.archive_client(client)
    messages.success(
        request,
        gettext(
            "{client} is archived. Nothing was deleted. You can find the record "
            "under Archived clients."
        ).format(client=client),
    )
    return redirect("clients:list")


@clinician_only
@require_POST
def restore(request: SignedInRequest, pk: int) -> HttpResponse:
    """Restore the client."""
    client = client_seen_by(request.user, pk)
    actions.restore_client(client, by=request.user)
    messages.success(request, gettext("{client} is restored.").format(client=client))
    return redirect("record:summary", pk=pk)
