"""The client's way in: a link or a typed code, and a PIN of their own choosing."""

from django.contrib.auth import login
from django.http import Http404
from django.shortcuts import redirect, render
from django.utils import timezone

from web.accounts.address import address_of
from web.accounts.guessing import Limit, allowed
from web.clients.actions import AlreadyChosen, LinkVoid, PinWaits, choose_pin, try_pin
from web.clients.queries import client_by_practice_code, link_is_stale

from ..forms import ChoosePinForm, CodeForm, PinForm

#: How long a device that was asked to remember stays signed in.
REMEMBERED_S = 180 * 24 * 3600
#: Codes that nobody has, from one address and from all: more is no typing error.
WRONG_CODES = Limit("wrong codes of an address", most=30, window_s=3600)
ALL_WRONG_CODES = Limit("wrong codes of all", most=2000, window_s=3600)
_BACKEND = "django.contrib.auth.backends.ModelBackend"


class TooManyCodes(Exception):
    """So many codes were wrong that none is looked up for a while."""


def _client(request, code):
    """The client whose code this is.

    Raises:
        Http404: nobody's.
        TooManyCodes: the last of too many that were nobody's.
    """
    try:
        return client_by_practice_code(code)
    except Http404:
        own = allowed(WRONG_CODES, address_of(request))
        if not allowed(ALL_WRONG_CODES) or not own:
            raise TooManyCodes from None
        raise


def _too_many(request):
    return render(request, "practice/too_many.html", {}, status=429)


def code(request):
    """For whoever types the code off paper."""
    form = CodeForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        try:
            client = _client(request, form.cleaned_data["code"])
        except TooManyCodes:
            return _too_many(request)
        except Http404:
            form.add_error("code", "No link has this code. Look at the paper again, or call.")
        else:
            return redirect("practice:enter", code=client.practice_code)
    return render(request, "practice/code.html", {"form": form})


def door(request):
    """What a remembered device shows instead of the session once its sign-in has ended: nothing of
    anybody, and how to come in again. It is kept on the device, for there may be no network."""
    return render(request, "practice/door.html")


def enter(request, code):
    """The client's own link: asks for the PIN (first for a new one) and shows nothing else."""
    try:
        client = _client(request, code)
    except TooManyCodes:
        return _too_many(request)
    if client.link_voided_at is not None:
        return render(request, "practice/void.html", {"clinic": client.clinic}, status=410)
    if link_is_stale(client, now=timezone.now()):
        return render(request, "practice/stale.html", {"clinic": client.clinic}, status=410)
    try:
        if not client.account.has_usable_password():
            return _choose(request, client)
        return _ask(request, client)
    except PinWaits as waits:
        minutes = max(1, -(-(waits.until - timezone.now()).total_seconds() // 60))
        context = {"clinic": client.clinic, "minutes": int(minutes)}
        return render(request, "practice/waits.html", context, status=429)
    except LinkVoid:
        return render(request, "practice/void.html", {"clinic": client.clinic}, status=410)


def _ask(request, client):
    form = PinForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        if _let_in(request, client, form):
            return redirect("practice:today")
        form.add_error("pin", "That PIN does not open this link. Try again, or ask your clinician.")
    return render(request, "practice/enter.html", {"form": form, "clinic": client.clinic})


def _choose(request, client):
    form = ChoosePinForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        try:
            choose_pin(client, pin=form.cleaned_data["pin"])
        except AlreadyChosen:
            return redirect("practice:enter", code=client.practice_code)
        client.account.refresh_from_db()
        if _let_in(request, client, form):
            return redirect("practice:today")
    return render(request, "practice/choose.html", {"form": form, "clinic": client.clinic})


def _let_in(request, client, form) -> bool:
    if not client.account.is_active or not try_pin(client, pin=form.cleaned_data["pin"].strip()):
        return False
    login(request, client.account, _BACKEND)
    remembered = form.cleaned_data["remember"]
    request.session["remembered"] = remembered
    request.session.set_expiry(REMEMBERED_S if remembered else 0)
    return True
