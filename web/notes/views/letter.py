"""The referral letter."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.http import HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string
from django.utils import timezone
from django.utils.text import slugify

from reedcore.safety import Flag
from web.accounts.access import looking
from web.accounts.second.reauthentication import asked_before_a_file
from web.baseline.presenters import derived_rows
from web.baseline.queries import reference_rows
from web.baseline.summaries import summary_of
from web.clients.caution_lines import cautions_of
from web.clients.queries import client_seen_by
from web.screening.queries import blocks, newest_screen
from web.screening.shown_stops import shown_stops, stop_sentence
from web.screening.wording import FLAG_NAMES
from web.ui.pdf import pdf_of

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client


@looking
def letter(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return the referral letter, one page, as it prints."""
    client = client_seen_by(request.user, pk)
    return render(request, "notes/letter_page.html", _letter(request, client))


@looking
@asked_before_a_file("notes:letter")
def letter_pdf(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return the same as PDF."""
    client = client_seen_by(request.user, pk)
    page = render_to_string("notes/letter.html", _letter(request, client))
    name = f"{slugify(client.name) or 'client'}-referral-{timezone.localdate():%Y-%m-%d}.pdf"
    return HttpResponse(
        pdf_of(page),
        content_type="application/pdf",
        headers={"Content-Disposition": f'inline; filename="{name}"'},
    )


def _letter(request: SignedInRequest, client: Client) -> dict[str, Any]:
    screen = newest_screen(client)
    sheet = client.baselines.select_related("client__clinic").first()
    figures = []
    if sheet:
        found = summary_of(sheet)
        figures = derived_rows(found, sheet, reference_rows(client.clinic))
    return {
        "client": client,
        "asked": screen,
        "flags": [FLAG_NAMES[Flag(code)] for code in screen.flags] if screen else [],
        "stops": [
            stop_sentence(each.stop, client.zone, is_for_clinic=False)
            for each in shown_stops(client)
        ],
        "held_back": bool(blocks(client, on=timezone.localdate(), screen=screen)),
        "cautions": cautions_of(client),
        "sheet": sheet,
        "figures": figures[:8],
        "today": timezone.localdate(),
        "writer": request.user.get_full_name() or request.user.username,
    }
