"""A clinician writes a line that the client sees after practice."""

from __future__ import annotations

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.http import require_POST

from web.accounts.access import clinician_only
from web.accounts.requests import SignedInRequest
from web.clients.queries import client_seen_by
from web.record.conversation import write_line
from web.record.models import ClinicLine
from web.ui.navigation import return_address


class LineForm(forms.Form):
    """A line to the client."""

    text = forms.CharField(
        label=gettext_lazy("Line for the client"),
        max_length=ClinicLine.MOST_CHARACTERS,
        error_messages={"required": gettext_lazy("Write the line first.")},
    )


@clinician_only
@require_POST
def write(request: SignedInRequest, pk: int) -> HttpResponse:
    """Write a line; the client sees it from the next session on."""
    client = client_seen_by(request.user, pk)
    form = LineForm(request.POST)
    if form.is_valid():
        write_line(client, form.cleaned_data["text"], by=request.user)
        messages.success(
            request, gettext("The line is saved. The client sees it after the next session.")
        )
    else:
        messages.error(request, " ".join(map(str, form.errors["text"])))
    return redirect(return_address(request, "results:client", pk=pk))
