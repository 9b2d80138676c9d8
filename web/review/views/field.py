"""The field of the voice."""

from django.shortcuts import render

from web.accounts.access import clinician_only
from web.clients.queries import client_seen_by

from ..lookback.field import field_of, heard_by_device


@clinician_only
def field(request, pk):
    """Of the device used last, unless another was chosen."""
    seen = client_seen_by(request.user, pk)
    heard = heard_by_device(seen)
    chosen = next((each for each in heard if each.device == request.GET.get("device")), None)
    chosen = chosen or next(iter(heard), None)
    context = {
        "client": seen,
        "devices": [each.device for each in heard],
        "chosen": chosen,
        "field": field_of(chosen, seen) if chosen else None,
    }
    return render(request, "review/field.html", context)
