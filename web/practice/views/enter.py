"""The client's way in: a link or a typed code, and a PIN of their own choosing."""

from django.contrib.auth import authenticate, login
from django.http import Http404
from django.shortcuts import redirect, render
from django.utils import timezone

from web.clients.actions import AlreadyChosen, choose_pin
from web.clients.queries import client_by_practice_code, link_is_stale

from ..forms import ChoosePinForm, CodeForm, PinForm

#: How long a device that was asked to remember stays signed in.
REMEMBERED_S = 180 * 24 * 3600


def code(request):
    """For whoever types the code off paper."""
    form = CodeForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        try:
            client = client_by_practice_code(form.cleaned_data["code"])
        except Http404:
            form.add_error("code", "No link has this code. Look at the paper again, or call.")
        else:
            return redirect("practice:enter", code=client.practice_code)
    return render(request, "practice/code.html", {"form": form})


def enter(request, code):
    """The client's own link: asks for the PIN (first for a new one) and shows nothing else."""
    client = client_by_practice_code(code)
    if link_is_stale(client, now=timezone.now()):
        return render(request, "practice/stale.html", {"clinic": client.clinic}, status=410)
    if not client.account.has_usable_password():
        return _choose(request, client)
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
    user = authenticate(
        request, username=client.account.username, password=form.cleaned_data["pin"]
    )
    if user is None:
        return False
    login(request, user)
    remembered = form.cleaned_data["remember"]
    request.session["remembered"] = remembered
    request.session.set_expiry(REMEMBERED_S if remembered else 0)
    return True
