"""The record for reading: reasons against voicing first."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.http import HttpResponse
from django.shortcuts import render
from django.utils import timezone

from web.accounts.access import looking
from web.accounts.models import User
from web.clients.caution_lines import cautions_of
from web.clients.queries import client_seen_by
from web.clients.wording import PROPS
from web.screening.queries import blocks, newest_screen
from web.screening.wording import BLOCKS

from ..changes import changes_of_record

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client


@looking
def summary(request: SignedInRequest, pk: int) -> HttpResponse:
    """Show the record for reading: reasons against voicing first."""
    client = client_seen_by(request.user, pk)
    screen = newest_screen(client)
    context = {
        "client": client,
        "screen": screen,
        "blocks": [
            BLOCKS[block] for block in blocks(client, on=timezone.localdate(), screen=screen)
        ],
        "cautions": cautions_of(client),
        "props": [PROPS.get(code, code) for code in client.props],
        "colleagues": _colleagues(client),
        "changes": changes_of_record(client, most=8),
    }
    return render(request, "record/summary.html", context)


def _colleagues(client: Client) -> list[Any]:
    """Return the colleagues to share the record with, and those it is; empty if all see all."""
    if client.clinic.sees_all:
        return []
    here = client.clinic.users.filter(role__in=User.AT_WORK, is_active=True)
    shared = set(client.shared_with.values_list("pk", flat=True))
    others = here.exclude(pk=client.clinician_id or 0)
    return [(each, each.pk in shared) for each in others]
