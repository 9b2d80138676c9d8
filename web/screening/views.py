"""The screening, decisions about it, and the referral letter."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.translation import gettext
from django.views.decorators.http import require_POST

from reedcore.safety import TIERS, Caution, Flag, Tier
from web.accounts.access import clinician_only
from web.accounts.requests import mark_not_taken
from web.clients.queries import client_seen_by
from web.clients.wording import CAUTION_NAMES
from web.ui.navigation import return_address

from . import actions
from .forms import ReasonForm, ReferForm, ScreenForm
from .queries import blocks, is_paused, newest_screen
from .shown_stops import shown_stops
from .wording import BLOCKS, FLAG_NAMES, TIER_ADVICE, caution_means

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client


@clinician_only
def screen(request: SignedInRequest, pk: int) -> HttpResponse:
    """Show the questions and, once answered, the result."""
    client = client_seen_by(request.user, pk)
    stops = shown_stops(client)
    response = _screen(request, client, stops)
    actions.mark_read([each.stop for each in stops], by=request.user)
    return response


def _screen(request: SignedInRequest, client: Client, stops: list[Any]) -> HttpResponse:
    screen = newest_screen(client)
    again = request.method == "POST" or screen is None or request.GET.get("again") == "1"
    if not again:
        return render(request, "screening/screened.html", _outcome(client, screen, stops=stops))
    form = ScreenForm(request.POST or None, client=client)
    if request.method == "POST" and form.is_valid():
        actions.record_screen(
            client,
            by=request.user,
            flags=form.flags_said(),
            cautions=form.yes_codes("caution_"),
            said_so=form.permissions(),
            complaint=form.cleaned_data["complaint"],
            examined_on=form.cleaned_data["examined_on"],
            note=form.cleaned_data["note"],
        )
        return redirect("screening:screen", pk=client.pk)
    return render(
        request,
        "screening/screen.html",
        {"client": client, "form": form, "asked": screen, "stops": stops},
    )


@clinician_only
@require_POST
def declare_safe(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return why it is safe to go on in spite of a red flag."""
    client = client_seen_by(request.user, pk)
    screen, form = newest_screen(client), ReasonForm(request.POST)
    if screen is None or not screen.open_flags:
        return redirect("screening:screen", pk=pk)
    if not form.is_valid():
        context = {**_outcome(client, screen), "reason_form": form}
        return render(request, "screening/screened.html", context)
    actions.declare_safe(screen, by=request.user, because=form.cleaned_data["because"])
    messages.success(request, gettext("Your reason is saved. You can prescribe again."))
    return redirect("screening:screen", pk=pk)


@clinician_only
@require_POST
def clear_stop(request: SignedInRequest, pk: int, key: UUID) -> HttpResponse:
    """Return why practising may go on after a stop."""
    client = client_seen_by(request.user, pk)
    stop, form = get_object_or_404(client.stops, pk=key), ReasonForm(request.POST)
    if not form.is_valid():
        mark_not_taken(request)
        messages.error(request, gettext("Enter the action taken. The note stays on record."))
    elif actions.clear_stop(stop, by=request.user, because=form.cleaned_data["because"]):
        again = gettext("is still paused") if is_paused(client) else gettext("can practise")
        messages.success(
            request,
            gettext("Your note is saved. {client} {again}.").format(client=client, again=again),
        )
    else:
        messages.info(
            request, gettext("A colleague has already resolved this stop. Nothing was changed.")
        )
    return redirect(return_address(request, "screening:screen", pk=pk))


@clinician_only
@require_POST
def refer(request: SignedInRequest, pk: int) -> HttpResponse:
    """Send the client on, and show the letter."""
    client = client_seen_by(request.user, pk)
    screen, form = newest_screen(client), ReferForm(request.POST)
    if screen is None:
        return redirect("screening:screen", pk=pk)
    if not form.is_valid():
        context = {**_outcome(client, screen), "refer_form": form}
        return render(request, "screening/screened.html", context)
    actions.refer(screen, to=form.cleaned_data["to"])
    return redirect("notes:letter", pk=pk)


def _outcome(client: Client, screen: Any, *, stops: Any = None) -> dict[str, Any]:
    """Return the consequences of the answers, most urgent first."""
    flags = [Flag(code) for code in screen.flags]
    tiers = [tier for tier in Tier if tier in {TIERS[flag] for flag in flags}]
    return {
        "client": client,
        "stops": shown_stops(client) if stops is None else stops,
        "asked": screen,
        "tiers": [
            {
                "tier": tier.value,
                "advice": TIER_ADVICE[tier].format(emergency_number=client.clinic.emergency_number),
                "flags": [FLAG_NAMES[flag] for flag in flags if TIERS[flag] is tier],
            }
            for tier in tiers
        ],
        "blocks": [BLOCKS[b] for b in blocks(client, on=timezone.localdate(), screen=screen)],
        "cautions": [
            (CAUTION_NAMES[each], caution_means(client, each))
            for each in Caution
            if each in client.caution_codes
        ],
        "reason_form": ReasonForm(),
        "refer_form": ReferForm(initial={"to": client.referrer}),
    }
