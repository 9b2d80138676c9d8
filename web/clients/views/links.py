"""Practice links: the client's own, and one for each helper."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any
from urllib.parse import quote, urlencode

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils.translation import gettext
from django.views.decorators.http import require_POST

from web.accounts.access import clinician_only
from web.ui.qr import qr_of

from .. import actions
from ..forms import HelperForm
from ..models import Client
from ..queries import LINK_OPENS_FOR, client_seen_by

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Helper


def _mail_of(client: Client, link: Any) -> str:
    """Return a mailto link for an email with the practice link, without a name."""
    to = client.contact_detail.strip() if client.contact == Client.Contact.MAIL else ""
    words = gettext("Your practice link:\n\n{link}\n\nOpen it and choose a PIN.").format(link=link)
    mail = {
        "subject": gettext("Practice at home, {clinic}").format(clinic=client.clinic),
        "body": words,
    }
    return f"mailto:{quote(to, safe='@.+-_')}?{urlencode(mail, quote_via=quote)}"


def _card(request: SignedInRequest, whose: Client | Helper) -> dict[str, object]:
    """Return the data of a practice link for the page."""
    link = None
    if whose.practice_code:
        link = request.build_absolute_uri(reverse("practice:enter", args=[whose.practice_code]))
    return {
        "whose": whose,
        "link": link,
        "qr": qr_of(link, scale=5) if link else "",
        "chosen": link is not None and whose.pin_chosen,
        "opens_for": LINK_OPENS_FOR.days,
    }


def _page(request: SignedInRequest, client: Client, form: HelperForm) -> HttpResponse:
    card = _card(request, client)
    draft = _mail_of(client, card["link"]) if card["link"] else ""
    helpers = client.helpers.filter(ended_at=None).select_related("account")
    context = {"client": client, **card, "draft": draft, "helpers": helpers, "form": form}
    status = 422 if form.is_bound else 200
    return render(request, "clients/practice_link.html", context, status=status)


@clinician_only
def practice_link(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return the client's own link; its PIN the client chooses on opening it first."""
    client = client_seen_by(request.user, pk)
    if request.method == "POST":
        if "revoke" in request.POST:
            actions.revoke_practice_access(client)
            messages.success(
                request,
                gettext("{client}’s practice link is disabled on all devices.").format(
                    client=client
                ),
            )
        else:
            actions.issue_practice_access(client)
        return redirect("clients:practice_link", pk=pk)
    return _page(request, client, HelperForm())


@clinician_only
@require_POST
def add_helper(request: SignedInRequest, pk: int) -> HttpResponse:
    """Add a helper of the client."""
    client = client_seen_by(request.user, pk)
    form = HelperForm(request.POST)
    if not form.is_valid():
        return _page(request, client, form)
    added = actions.add_helper(client, **form.cleaned_data)
    return redirect("clients:helper", pk=pk, helper=added.pk)


@clinician_only
def helper(request: SignedInRequest, pk: int, helper: int) -> HttpResponse:
    """Return the link of a helper."""
    client = client_seen_by(request.user, pk)
    whose = get_object_or_404(client.helpers.filter(ended_at=None), pk=helper)
    if request.method == "POST":
        if "revoke" in request.POST:
            actions.end_helper(whose)
            messages.success(
                request,
                gettext("{name}’s practice link is disabled on all devices.").format(
                    name=whose.name
                ),
            )
            return redirect("clients:practice_link", pk=pk)
        actions.issue_practice_access(whose)
        return redirect("clients:helper", pk=pk, helper=helper)
    context = {"client": client, **_card(request, whose)}
    return render(request, "clients/helper.html", context)
