"""The clinic's own settings: safety, reference table, calibrations."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django import forms
from django.contrib import messages
from django.db import IntegrityError, transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_POST

from web.accounts.access import clinician_only
from web.accounts.models import Clinic, User
from web.baseline.figure_words import measure_name
from web.baseline.models import ReferenceFigure
from web.baseline.reference_form import ReferenceForm
from web.record.changes import changes_of
from web.ui.forms import DescribedForm, offer_rows
from web.ui.saving import save_form
from web.ui.version import version

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest

ONLY_LEAD = gettext_lazy("Only the clinic lead can change the settings.")


class ClinicForm(DescribedForm, forms.ModelForm):
    """Form for the clinic's settings."""

    class Meta:
        model = Clinic
        fields = [
            "name", "address", "time_zone", "a4_hz", "telephone", "emergency_number", "deputy",
            "lead", "mail_label", "unexamined_limit_days", "questionnaire", "idle_minutes",
            "log_kept_days", "archived_kept_years", "erased_after_days", "second_step_required",
            "device_remembered_days", "sees_all",
        ]  # fmt: skip
        labels = {
            "name": gettext_lazy("Name"),
            "time_zone": gettext_lazy("Time zone"),
            "emergency_number": gettext_lazy("Emergency number"),
            "deputy": gettext_lazy("Deputy"),
            "lead": gettext_lazy("Lead"),
        }
        widgets = {"address": forms.Textarea(attrs={"rows": 3})}

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        own = User.objects.filter(clinic=self.instance, role=User.Role.CLINICIAN, is_active=True)
        for name in ("deputy", "lead"):
            offer_rows(self, name, own, label=lambda user: user.get_full_name() or user.username)


@clinician_only
def clinic(request: SignedInRequest) -> Any:
    """Show settings, reference ranges, and calibrated devices."""
    settings_form = ClinicForm(request.POST or None, instance=request.user.clinic)
    if request.method == "POST" and not request.user.is_lead:
        messages.error(request, gettext("{value} Nothing was changed.").format(value=ONLY_LEAD))
        return redirect("clinic:clinic")
    if request.method == "POST" and settings_form.is_valid():
        save_form(settings_form)
        messages.success(request, gettext("Clinic settings saved."))
        return redirect("clinic:clinic")
    return _page(request, settings_form, ReferenceForm())


def _page(
    request: SignedInRequest, settings_form: ClinicForm, reference_form: ReferenceForm
) -> HttpResponse:
    today = timezone.localdate()
    own = Clinic.objects.get(pk=request.user.clinic_id)
    calibrations = [
        {"row": row, "expires": row.value.expires_on, "holds": today < row.value.expires_on}
        for row in own.calibrations.select_related("made_by")[:30]
    ]
    rows = [(row, measure_name(row.measure)) for row in own.reference_figures.all()]
    context = {
        "form": settings_form,
        "reference_form": reference_form,
        "rows": rows,
        "calibrations": calibrations,
        "changes": [each for each in changes_of(own, most=12) if each.lines],
        "version": version(),
    }
    return render(request, "clinic/clinic.html", context)


@clinician_only
@require_POST
def add_reference(request: SignedInRequest) -> HttpResponse:
    """Return one row more in the table."""
    if not request.user.is_lead:
        messages.error(request, gettext("{value} Nothing was changed.").format(value=ONLY_LEAD))
        return redirect("clinic:clinic")
    form = ReferenceForm(request.POST)
    if form.is_valid():
        row = form.save(commit=False)
        row.clinic = request.user.clinic
        try:
            with transaction.atomic():
                row.save(force_insert=True)
        except IntegrityError:
            form.add_error(
                None, gettext("A range for this measure, age and voice exists. Remove it first.")
            )
        else:
            messages.success(request, gettext("Range added."))
            return redirect("clinic:clinic")
    return _page(request, ClinicForm(instance=request.user.clinic), form)


@clinician_only
@require_POST
def remove_reference(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return one row less; its history stays."""
    if not request.user.is_lead:
        messages.error(request, gettext("{value} Nothing was changed.").format(value=ONLY_LEAD))
        return redirect("clinic:clinic")
    get_object_or_404(ReferenceFigure, pk=pk, clinic=request.user.clinic).delete()
    messages.success(request, gettext("Range removed."))
    return redirect("clinic:clinic")
