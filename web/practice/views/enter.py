"""The client's way in: a link or a typed code, and a PIN of their own choosing."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.contrib import messages
from django.contrib.auth import login, update_session_auth_hash
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.translation import gettext

from web.accounts.access import practising
from web.accounts.address import address_of
from web.accounts.rate_limit import Limit, is_within_limit
from web.accounts.sessions import SHARED
from web.clients.actions import AlreadyChosen, LinkVoid, PinWaits, change_pin, choose_pin, try_pin
from web.clients.pseudonyms import by_practice_link
from web.clients.queries import link_by_practice_code, link_is_stale, link_of

from ..forms import ChoosePinForm, CodeForm, PinForm, ReplacePinForm
from ..tablet import tablet_of

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client, Helper

#: How long a remembered device stays signed in.
REMEMBERED_S = 180 * 24 * 3600
#: Unknown codes per address, and in total, before further ones are refused.
WRONG_CODES = Limit("wrong codes of an address", most=30, window_s=3600)
ALL_WRONG_CODES = Limit("wrong codes of all", most=2000, window_s=3600)
_BACKEND = "django.contrib.auth.backends.ModelBackend"


class TooManyCodes(Exception):
    """Too many wrong codes: none is accepted for a while."""


def _link(request: Any, code: str) -> Client | Helper:
    """Return the account of this practice code.

    Raises:
        Http404: no link has this code.
        TooManyCodes: this was the last of too many wrong codes.
    """
    try:
        return link_by_practice_code(code)
    except Http404:
        own = is_within_limit(WRONG_CODES, address_of(request))
        if not is_within_limit(ALL_WRONG_CODES) or not own:
            raise TooManyCodes from None
        raise


def _too_many_attempts(request: Any) -> HttpResponse:
    return render(request, "practice/too_many.html", {}, status=429)


def code(request: SignedInRequest) -> HttpResponse:
    """Show the form for a code typed from paper; a shared tablet lists names instead."""
    if request.method == "GET" and "typed" not in request.GET and tablet_of(request):
        return redirect("practice:tablet")
    form = CodeForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        try:
            link = _link(request, form.cleaned_data["code"])
        except TooManyCodes:
            return _too_many_attempts(request)
        except Http404:
            form.add_error(
                "code", gettext("This code is not right. Check your paper, or call your clinic.")
            )
        else:
            return redirect("practice:enter", code=link.practice_code)
    return render(request, "practice/code.html", {"form": form})


def door(request: SignedInRequest) -> HttpResponse:
    """Return the page of a remembered device after its sign-in has ended: no personal data, and how
    to sign in again. The device stores it, because there may be no network."""
    return render(request, "practice/door.html")


@by_practice_link
def enter(request: HttpRequest, code: str) -> HttpResponse:
    """Show the client's own link: ask for the PIN (choose it the first time) and show nothing
    else."""
    try:
        link = _link(request, code)
    except TooManyCodes:
        return _too_many_attempts(request)
    return entry_page(request, link)


def entry_page(request: Any, link: Any, *, called: str = "") -> Any:
    """Return the page of a link: choose a PIN, enter it, or why neither is possible.

    Args:
        called: the name to greet, on a shared device; it is not remembered.
    """
    if link.link_voided_at is not None:
        return render(request, "practice/void.html", {"clinic": link.clinic}, status=410)
    if link_is_stale(link, now=timezone.now()):
        return render(request, "practice/stale.html", {"clinic": link.clinic}, status=410)
    try:
        if not link.pin_chosen:
            return _choose(request, link, called)
        return _ask(request, link, called)
    except PinWaits as waits:
        return _waits(request, link, waits)
    except LinkVoid:
        return render(request, "practice/void.html", {"clinic": link.clinic}, status=410)


def _waits(request: SignedInRequest, link: Any, waits: PinWaits) -> HttpResponse:
    minutes = max(1, -(-(waits.until - timezone.now()).total_seconds() // 60))
    context = {"clinic": link.clinic, "minutes": int(minutes)}
    return render(request, "practice/waits.html", context, status=429)


def _ask(request: SignedInRequest, link: Client | Helper, called: str) -> HttpResponse:
    form = PinForm(request.POST or None, shared=bool(called))
    if request.method == "POST" and form.is_valid():
        if _check_pin(request, link, form):
            return redirect("practice:today")
        form.add_error("pin", gettext("This PIN is not right. Try again, or ask your clinician."))
    context = {"form": form, "clinic": link.clinic, "who": called}
    return render(request, "practice/enter.html", context)


def _choose(request: SignedInRequest, link: Any, called: str) -> HttpResponse:
    form = ChoosePinForm(request.POST or None, shared=bool(called))
    if request.method == "POST" and form.is_valid():
        try:
            choose_pin(link, pin=form.cleaned_data["pin"])
        except AlreadyChosen:
            return redirect(request.path)
        link.account.refresh_from_db()
        if _check_pin(request, link, form):
            return redirect("practice:today")
    return render(request, "practice/choose.html", {"form": form, "clinic": link.clinic})


def _check_pin(request: SignedInRequest, link: Any, form: Any) -> bool:
    if not link.account.is_active or not try_pin(link, pin=form.cleaned_data["pin"].strip()):
        return False
    login(request, link.account, _BACKEND)
    remembered = form.cleaned_data.get("remember", False)
    request.session["remembered"] = remembered
    request.session[SHARED] = form.shared
    request.session.set_expiry(REMEMBERED_S if remembered else 0)
    return True


@practising
def pin(request: SignedInRequest) -> HttpResponse:
    """Change the PIN; the current one is required."""
    client = get_object_or_404(request.user.visible_clients())
    link = link_of(client, request.user)
    account = link.account if link else None
    if link is None or account is None:
        raise Http404
    form = ReplacePinForm(request.POST or None, shared=True)
    if request.method == "POST" and form.is_valid():
        try:
            changed = change_pin(
                link, old=form.cleaned_data["old"].strip(), pin=form.cleaned_data["pin"]
            )
        except PinWaits as waits:
            return _waits(request, link, waits)
        except LinkVoid:
            return render(request, "practice/void.html", {"clinic": link.clinic}, status=410)
        if changed:
            account.refresh_from_db()
            update_session_auth_hash(request, account)
            messages.success(
                request, gettext("Your new PIN is saved. Your other devices will ask for it.")
            )
            return redirect("practice:today")
        form.add_error("old", gettext("The current PIN is not right."))
    return render(request, "practice/pin.html", {"form": form, "clinic": client.clinic})
