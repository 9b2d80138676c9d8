"""A clinician writes a message that the client sees after practice."""

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
from web.record.conversation import write_message
from web.record.models import PracticeMessage
from web.ui.navigation import return_address


class MessageForm(forms.Form):
    """A message to the client."""

    text = forms.CharField(
        label=gettext_lazy("Message to the client"),
        max_length=PracticeMessage.MOST_CHARACTERS,
        error_messages={"required": gettext_lazy("Write the message first.")},
    )


@clinician_only
@require_POST
def write(request: SignedInRequest, pk: int) -> HttpResponse:
    """Write a message; the client sees it from the next session on."""
    client = client_seen_by(request.user, pk)
    form = MessageForm(request.POST)
    if form.is_valid():
        write_message(client, form.cleaned_data["text"], by=request.user)
        messages.success(
            request, gettext("The message is saved. The client sees it after the next session.")
        )
    else:
        messages.error(request, " ".join(map(str, form.errors["text"])))
    return redirect(return_address(request, "results:client", pk=pk))
