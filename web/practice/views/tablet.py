"""A shared tablet of several clients: the names on it, and signing in from there."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django import forms
from django.contrib import messages
from django.contrib.auth import logout
from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_GET, require_POST

from web.accounts.access import lead_only
from web.clients.pseudonyms import by_practice_link
from web.ui.forms import DescribedForm, offer_rows
from web.ui.saving import lock_row, save_form

from ..models import Tablet
from ..tablet import is_now, tablet_of, tiles
from .enter import entry_page

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest


class TabletForm(DescribedForm, forms.ModelForm):
    """Form for a tablet: its name and its clients."""

    class Meta:
        model = Tablet
        fields = ["name", "clients"]
        widgets = {"clients": forms.CheckboxSelectMultiple}
        labels = {
            "name": gettext_lazy("Location"),
            "clients": gettext_lazy("Clients on this tablet"),
        }
        help_texts = {"clients": gettext_lazy("Anyone near the tablet can read these names.")}

    def __init__(self, *args: Any, clinic: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        offer_rows(self, "clients", clinic.clients.filter(archived_at=None))


def _page(
    request: SignedInRequest, form: TabletForm, bound: Tablet | None = None, status: int = 200
) -> HttpResponse:
    clinic = request.user.clinic
    here = tablet_of(request)
    context = {
        "new": form if bound is None else TabletForm(clinic=clinic, prefix="new"),
        "tablets": [
            (each, form if each == bound else _form_of(each), each == here)
            for each in clinic.tablets.filter(ended_at=None).prefetch_related("clients")
        ],
    }
    return render(request, "practice/tablets.html", context, status=status)


def _form_of(tablet: Tablet, data: QueryDict | None = None) -> TabletForm:
    return TabletForm(data, instance=tablet, clinic=tablet.clinic, prefix=f"tablet-{tablet.pk}")


@transaction.atomic
def keep_tablet(form: Any) -> Tablet:
    """Return a new tablet; the existing one for the same name and clients."""
    clinic = lock_row(form.instance.clinic)
    for other in clinic.tablets.filter(name=form.cleaned_data["name"], ended_at=None):
        if set(other.clients.all()) == set(form.cleaned_data["clients"]):
            return other
    kept: Tablet = save_form(form)
    return kept


@lead_only
def tablets(request: SignedInRequest) -> Any:
    """Return every shared tablet of the clinic, and a new one."""
    clinic = request.user.clinic
    if request.method != "POST":
        return _page(request, TabletForm(clinic=clinic, prefix="new"))
    new = Tablet(clinic=clinic, made_by=request.user)
    form = TabletForm(request.POST, instance=new, clinic=clinic, prefix="new")
    if not form.is_valid():
        return _page(request, form, status=422)
    tablet = keep_tablet(form)
    messages.success(
        request,
        gettext("“{tablet}” is saved. Open this page on the tablet to set it up.").format(
            tablet=tablet
        ),
    )
    return redirect("practice:tablets")


@lead_only
@require_POST
def change_tablet(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return other names on it; no names at all; or this very device becomes it."""
    tablet = get_object_or_404(request.user.clinic.tablets.filter(ended_at=None), pk=pk)
    if "end" in request.POST:
        tablet.ended_at = timezone.now()
        tablet.save(update_fields=["ended_at"])
        messages.success(request, gettext("“{tablet}” shows no names now.").format(tablet=tablet))
        return redirect("practice:tablets")
    if "here" in request.POST:
        logout(request)
        return is_now(redirect("practice:tablet"), tablet, is_secure=request.is_secure())
    form = _form_of(tablet, request.POST)
    if not form.is_valid():
        return _page(request, form, bound=tablet, status=422)
    save_form(form)
    messages.success(
        request, gettext("“{tablet}” shows the names you chose.").format(tablet=tablet)
    )
    return redirect("practice:tablets")


@require_GET
def tablet(request: HttpRequest) -> HttpResponse:
    """Return the names, on the tablet itself; any other device is led to where a code is typed."""
    here = tablet_of(request)
    if here is None:
        return redirect("practice:code")
    if request.user.is_authenticated:
        return redirect("accounts:home")
    context = {"clinic": here.clinic, "tiles": tiles(here)}
    return render(request, "practice/tablet.html", context)


@by_practice_link
def tablet_enter(request: HttpRequest, pk: int) -> HttpResponse:
    """Ask for the PIN of the chosen name."""
    here = tablet_of(request)
    if here is None:
        return redirect("practice:code")
    by_name = {client.pk: (client, name) for client, name in tiles(here)}
    if pk not in by_name:
        raise Http404
    client, name = by_name[pk]
    return entry_page(request, client, called=name)
