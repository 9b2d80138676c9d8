"""The people of a clinic: who is there, who is invited, who leaves."""

from django import forms
from django.contrib import messages
from django.core.exceptions import ValidationError
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_GET, require_POST

from web.accounts.access import clinician_only
from web.accounts.actions import add_clinician, password_path
from web.accounts.models import User
from web.ui.forms import DescribedForm

from ..actions.people import NotYet, let_back, let_go

ONLY_LEAD = "Only the lead of the clinic changes who works in it."


class ColleagueForm(DescribedForm, forms.Form):
    """Somebody who is to come in."""

    name = forms.CharField(label="First and last name", max_length=150)
    mail = forms.EmailField(label="Mail address")


def _page(request, form=None, link="", whose=None, status=200):
    clinic = request.user.clinic
    people = clinic.users.filter(role=User.Role.CLINICIAN).order_by("-is_active", "last_name")
    caseload = {each.pk: clinic.clients.filter(clinician=each).count() for each in people}
    context = {
        "people": [(each, caseload[each.pk]) for each in people],
        "active": [each for each in people if each.is_active],
        "is_lead": request.user.is_lead,
        "lead": clinic.lead,
        "form": form or ColleagueForm(),
        "link": request.build_absolute_uri(link) if link else "",
        "whose": whose,
    }
    return render(request, "clients/people.html", context, status=status)


@clinician_only
@require_GET
def people(request):
    """Everybody who signs in here."""
    return _page(request)


def _may(request) -> bool:
    """Whether this is the lead; said where it is not."""
    if request.user.is_lead:
        return True
    messages.error(request, ONLY_LEAD)
    return False


@clinician_only
@require_POST
def invite(request):
    """A colleague, and the link by which they choose a password."""
    if not _may(request):
        return redirect("clients:people")
    form = ColleagueForm(request.POST)
    if form.is_valid():
        try:
            made = add_clinician(request.user.clinic, **form.cleaned_data)
        except ValidationError as error:
            form.add_error(None, error)
        else:
            return _page(request, link=password_path(made), whose=made)
    return _page(request, form=form, status=422)


def _colleague(request, pk):
    return get_object_or_404(request.user.clinic.users.filter(role=User.Role.CLINICIAN), pk=pk)


@clinician_only
@require_POST
def new_link(request, pk):
    """Another link to choose a password by; the ones before it end when it is used."""
    whose = _colleague(request, pk)
    if not _may(request) or not whose.is_active:
        return redirect("clients:people")
    return _page(request, link=password_path(whose), whose=whose)


@clinician_only
@require_POST
def leave(request, pk):
    """Closes an account and hands its clients over; or opens it again."""
    user = _colleague(request, pk)
    if not _may(request):
        return redirect("clients:people")
    if not user.is_active:
        let_back(user)
        messages.success(request, f"{user.get_full_name()} can come in again, by a new link.")
        return redirect("clients:people")
    chosen = request.POST.get("to", "")
    to = _colleague(request, int(chosen)) if chosen.isdecimal() else None
    try:
        count = let_go(user, to=to, by=request.user)
    except NotYet as refused:
        messages.error(request, str(refused))
    else:
        handed = f" {count} clients are {to.get_full_name()}’s now." if count else ""
        messages.success(request, f"{user.get_full_name()} can no longer get in.{handed}")
    return redirect("clients:people")
