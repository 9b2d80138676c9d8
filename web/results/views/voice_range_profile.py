"""The voice range profile."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.http import HttpResponse
from django.shortcuts import render

from web.accounts.access import looking
from web.clients.queries import client_seen_by

from ..voice_range_profile import measured_by_device, profile_of

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest


@looking
def voice_range_profile(request: SignedInRequest, pk: int) -> HttpResponse:
    """Show the profile of the most recent device, unless another was chosen."""
    seen = client_seen_by(request.user, pk)
    measured = measured_by_device(seen)
    chosen = next((each for each in measured if each.device == request.GET.get("device")), None)
    chosen = chosen or next(iter(measured), None)
    context = {
        "client": seen,
        "devices": [each.device for each in measured],
        "chosen": chosen,
        "profile": profile_of(chosen, seen) if chosen else None,
    }
    return render(request, "results/voice_range_profile.html", context)
