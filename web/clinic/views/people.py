"""The people of a clinic: accounts, invitations, deactivation."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django import forms
from django.contrib import messages
from django.core.exceptions import ValidationError
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy, ngettext
from django.views.decorators.http import require_GET, require_POST

from web.accounts.access import clinician_only
from web.accounts.actions import add_colleague, password_path
from web.accounts.models import Cover, User
from web.accounts.second.actions import reset_two_step
from web.accounts.second.reauthentication import asked_again
from web.accounts.second.required_methods import with_second_step
from web.clients.actions.people import (
    NotOwner,
    PersonNotChanged,
    arrange_cover,
    deactivate_account,
    give_role,
    reactivate_account,
    share,
)
from web.clients.forms import DateInput
from web.clients.queries import client_seen_by
from web.record.changes import changes_of_people
from web.ui.dates import month_day
from web.ui.forms import DescribedForm, offer_rows

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest

ONLY_LEAD = gettext_lazy("Only the clinic lead can manage people.")


#: Role names.
ROLES = [(role.value, role.label) for role in User.AT_WORK]


class ColleagueForm(DescribedForm, forms.Form):
    """Form that invites a colleague."""

    name = forms.CharField(label=gettext_lazy("First and last name"), max_length=150)
    mail = forms.EmailField(label=gettext_lazy("Email address"))
    role = forms.ChoiceField(label=gettext_lazy("Role"), choices=ROLES, initial=User.Role.CLINICIAN)


class CoverForm(DescribedForm, forms.Form):
    """Form for a cover: clinician, substitute, first and last day."""

    absent = forms.ModelChoiceField(User.objects.none(), label=gettext_lazy("For"))
    substitute = forms.ModelChoiceField(User.objects.none(), label=gettext_lazy("Covered by"))
    first_day = forms.DateField(label=gettext_lazy("From"), widget=DateInput())
    last_day = forms.DateField(label=gettext_lazy("To, included"), widget=DateInput())

    def __init__(self, *args: Any, user: User, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        here = user.clinic.users.filter(role=User.Role.CLINICIAN, is_active=True)
        # People arrange their own cover; the lead arranges everyone's.
        absent = here if user.is_lead else here.filter(pk=user.pk)
        for name, rows in (("absent", absent), ("substitute", here)):
            offer_rows(self, name, rows, label=lambda each: each.get_full_name())

    def clean(self) -> Any:
        """Refuse cover by the same person and dates in the wrong order."""
        super().clean()
        cleaned = self.cleaned_data
        if cleaned.get("absent") and cleaned.get("absent") == cleaned.get("substitute"):
            self.add_error("substitute", gettext("Choose another person to cover."))
        first, last = cleaned.get("first_day"), cleaned.get("last_day")
        if first and last and last < first:
            self.add_error("last_day", gettext("The last day must not be before the first."))
        if last and last < timezone.localdate():
            self.add_error("last_day", gettext("This period is already over."))
        return cleaned


def _page(
    request: SignedInRequest,
    form: ColleagueForm | None = None,
    link: str = "",
    whose: User | None = None,
    status: int = 200,
    cover_form: CoverForm | None = None,
) -> HttpResponse:
    clinic = request.user.clinic
    people = clinic.users.filter(role__in=User.AT_WORK).order_by(
        "-is_active", "last_name", "first_name", "pk"
    )
    today = timezone.now().astimezone(clinic.zone).date()
    covers = Cover.objects.filter(absent__clinic=clinic, last_day__gte=today)
    caseload = {each.pk: clinic.clients.filter(clinician=each).count() for each in people}
    context = {
        "people": [(each, caseload[each.pk]) for each in people],
        "active": [each for each in people if each.is_active and each.is_clinician],
        "roles": ROLES,
        "with_second_step": with_second_step(people),
        "covers": covers.select_related("absent", "substitute"),
        "cover_form": cover_form or CoverForm(user=request.user),
        "is_lead": request.user.is_lead,
        "changes": changes_of_people(clinic, most=30) if request.user.is_lead else [],
        "lead": clinic.lead,
        "form": form or ColleagueForm(),
        "link": request.build_absolute_uri(link) if link else "",
        "whose": whose,
    }
    return render(request, "clinic/people.html", context, status=status)


@clinician_only
@require_GET
def people(request: SignedInRequest) -> HttpResponse:
    """Show all accounts of the clinic."""
    return _page(request)


def _is_lead_or_warn(request: SignedInRequest) -> bool:
    """Return whether the user is the lead; add a message if not."""
    if request.user.is_lead:
        return True
    messages.error(request, ONLY_LEAD)
    return False


@clinician_only
@asked_again
@require_POST
def invite(request: SignedInRequest) -> HttpResponse:
    """Return a colleague, and the link by which they choose a password."""
    if not _is_lead_or_warn(request):
        return redirect("clinic:people")
    form = ColleagueForm(request.POST)
    if form.is_valid():
        try:
            made = add_colleague(request.user.clinic, **form.cleaned_data)
        except ValidationError as error:
            form.add_error(None, error)
        else:
            return _page(request, link=password_path(made), whose=made)
    return _page(request, form=form, status=422)


def _colleague(request: SignedInRequest, pk: int) -> User:
    return get_object_or_404(request.user.clinic.users.filter(role__in=User.AT_WORK), pk=pk)


@clinician_only
@asked_again
@require_POST
def new_link(request: SignedInRequest, pk: int) -> HttpResponse:
    """Create another password link; earlier ones end when it is used."""
    whose = _colleague(request, pk)
    if not _is_lead_or_warn(request) or not whose.is_active:
        return redirect("clinic:people")
    return _page(request, link=password_path(whose), whose=whose)


@clinician_only
@asked_again
@require_POST
def role(request: SignedInRequest, pk: int) -> HttpResponse:
    """Change a colleague's role."""
    whose = _colleague(request, pk)
    new_role = request.POST.get("role", "")
    if not _is_lead_or_warn(request) or new_role not in dict(ROLES):
        return redirect("clinic:people")
    try:
        give_role(whose, new_role, by=request.user)
    except PersonNotChanged as refused:
        messages.error(request, str(refused))
    else:
        name = whose.get_full_name() or whose.username
        messages.success(
            request,
            gettext("{name}’s role is now: {value}.").format(
                name=name, value=dict(ROLES)[new_role]
            ),
        )
    return redirect("clinic:people")


@clinician_only
@asked_again
@require_POST
def reset_second_step(request: SignedInRequest, pk: int) -> HttpResponse:
    """Reset the two-step verification of a colleague who has lost the second step."""
    whose = _colleague(request, pk)
    if not _is_lead_or_warn(request):
        return redirect("clinic:people")
    reset_two_step(whose)
    name = whose.get_full_name() or whose.username
    messages.success(
        request,
        gettext(
            "Two-step verification of {name} is reset. {name} signs in with the "
            "password and can set it up again."
        ).format(name=name),
    )
    return redirect("clinic:people")


@clinician_only
@require_POST
def cover(request: SignedInRequest) -> HttpResponse:
    """Arrange cover for a colleague."""
    form = CoverForm(request.POST, user=request.user)
    if not form.is_valid():
        return _page(request, cover_form=form, status=422)
    made = arrange_cover(**form.cleaned_data, made_by=request.user)
    names = gettext("{by} covers for {of}").format(
        by=made.substitute.get_full_name(), of=made.absent.get_full_name()
    )
    messages.success(
        request,
        gettext("{names} from {first} to {last}.").format(
            names=names, first=month_day(made.first_day), last=month_day(made.last_day)
        ),
    )
    return redirect("clinic:people")


@clinician_only
@require_POST
def end_cover(request: SignedInRequest, pk: int) -> HttpResponse:
    """End a cover, or cancel one that has not begun."""
    found = get_object_or_404(Cover.objects.filter(absent__clinic=request.user.clinic), pk=pk)
    if request.user.is_lead or request.user == found.absent:
        found.delete()
        messages.success(request, gettext("The cover has ended."))
    else:
        messages.error(request, ONLY_LEAD)
    return redirect("clinic:people")


@clinician_only
@require_POST
def share_record(request: SignedInRequest, pk: int) -> HttpResponse:
    """Share a record with users; only for the client's own clinician and the lead."""
    client = client_seen_by(request.user, pk)
    chosen = [int(each) for each in request.POST.getlist("with") if each.isdecimal()]
    here = request.user.clinic.users.filter(role__in=User.AT_WORK, is_active=True)
    try:
        share(client, list(here.filter(pk__in=chosen)), by=request.user)
    except NotOwner:
        messages.error(
            request, gettext("Only the client’s clinician or the clinic lead can share a record.")
        )
    else:
        messages.success(request, gettext("Sharing is saved."))
    return redirect("record:summary", pk)


@clinician_only
@asked_again
@require_POST
def deactivate(request: SignedInRequest, pk: int) -> HttpResponse:
    """Deactivate an account and hand its clients over."""
    user = _colleague(request, pk)
    if not _is_lead_or_warn(request):
        return redirect("clinic:people")
    chosen = request.POST.get("to", "")
    to = _colleague(request, int(chosen)) if chosen.isdecimal() else None
    try:
        count = deactivate_account(user, to=to, by=request.user)
    except PersonNotChanged as refused:
        messages.error(request, str(refused))
    else:
        name = user.get_full_name()
        text = gettext("The account of {user} is deactivated.").format(user=name)
        if count and to:
            text = ngettext(
                "The account of {user} is deactivated. {count} client now belongs to {to}.",
                "The account of {user} is deactivated. {count} clients now belong to {to}.",
                count,
            ).format(user=name, count=count, to=to.get_full_name())
        messages.success(request, text)
    return redirect("clinic:people")


@clinician_only
@asked_again
@require_POST
def reactivate(request: SignedInRequest, pk: int) -> HttpResponse:
    """Reactivate an account.

    This has an address of its own: with one address for both, a button pressed twice would
    deactivate the account and reactivate it at once.
    """
    user = _colleague(request, pk)
    if not _is_lead_or_warn(request):
        return redirect("clinic:people")
    reactivate_account(user)
    messages.success(
        request,
        gettext("The account of {user} is active again. Send a new password link.").format(
            user=user.get_full_name()
        ),
    )
    return redirect("clinic:people")
