"""The player: one page that leads through a session, its sounds, and its requests."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from django.conf import settings
from django.contrib.auth.decorators import login_required
from django.contrib.staticfiles import finders
from django.contrib.staticfiles.storage import staticfiles_storage
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.utils.translation import gettext
from django.views.decorators.http import require_GET

from reedcore.formats.wav import write_wav
from web.accounts.access import assisting, practising
from web.clients.models import Helper
from web.clients.queries import client_seen_by, link_of
from web.keeping.epoch import epoch
from web.record.prescribed_item import PrescribedRow
from web.record.programmes import current_programme, tasks_of
from web.sound.offers import offer_simulated
from web.ui.push_key import public_key

from ..forms import SimulatedForm
from ..page_token import page_token
from ..plan import session_plan
from ..sealing import sealing_key
from ..simulated import MANNERS, comfortable_clip, simulated_clip

if TYPE_CHECKING:
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client


@practising
@require_GET
def today(request: SignedInRequest) -> HttpResponse:
    """Return the client's own session."""
    client = get_object_or_404(request.user.visible_clients().select_related("clinic"))
    return _player(request, client)


@assisting
@require_GET
def clinic_player(request: HttpRequest, pk: int) -> HttpResponse:
    """Return the same, led from the clinician's screen."""
    return _player(request, client_seen_by(request.user, pk))


def _player(request: Any, client: Client) -> HttpResponse:
    programme = current_programme(client)
    if programme is None:
        page = "practice/nothing_yet.html"
        return render(request, page, {"client": client, "clinician": request.user.leads_sessions})
    clinic_mode = request.user.leads_sessions
    plan, stages = session_plan(programme, client=client, is_in_clinic=clinic_mode)
    link = link_of(client, request.user)
    helper = link if isinstance(link, Helper) else None
    context = {
        "plan": {**plan, "helper": helper.pk if helper else None},
        "helper": helper,
        "stages": stages,
        "client": client,
        "programme": programme,
        "clinic_mode": clinic_mode,
        "remembered": bool(request.session.get("remembered")),
        "manners": [(name, label) for name, (label, _, _) in MANNERS.items()],
        "offer_simulated": offer_simulated(),
        "emergency_number": client.clinic.emergency_number,
        "sealing_key": sealing_key(client),
        "page_token": page_token(client, by=request.user),
        "epoch": epoch().pk,
        "keeps_days": settings.DEVICE_KEEPS_DAYS,
        "push_key": public_key(),
    }
    response = render(request, "practice/player.html", context)
    if context["remembered"]:
        # Until when the device may show this page without asking the server.
        ends = request.session.get_expiry_date()
        response["X-Signed-In-Until"] = str(round(ends.timestamp() * 1000))
    return response


@login_required
@require_GET
def simulated_voice(request: SignedInRequest, pk: int) -> HttpResponse:
    """Return a made-up client's try at this task, for machines without a microphone."""
    task = get_object_or_404(tasks_of(request.user), pk=pk)
    if not offer_simulated():
        raise Http404
    form = SimulatedForm(request.GET)
    if not form.is_valid():
        return JsonResponse(
            {"sentence": gettext("The simulated voice does not support this task.")}, status=400
        )
    clip = simulated_clip(PrescribedRow(task), **form.cleaned_data)
    return _wav(write_wav(clip.samples, clip.rate_hz))


@practising
@require_GET
def comfortable_voice(request: SignedInRequest) -> HttpResponse:
    """Return the made-up client's comfortable vowel."""
    form = SimulatedForm(request.GET)
    if not offer_simulated() or not form.is_valid():
        raise Http404
    client = get_object_or_404(request.user.visible_clients())
    clip = comfortable_clip(client, seed=form.cleaned_data["seed"])
    return _wav(write_wav(clip.samples, clip.rate_hz))


_UNVERSIONED = 'const VERSION = "as it stands";'


@require_GET
def worker(request: HttpRequest) -> HttpResponse:
    """Return the script that keeps a remembered device's session going without a network.

    Served from here, for a worker may only look after what lies under its own address.
    """
    with open(str(finders.find("practice/js/worker.js"))) as file:
        script = file.read()
    # Identify the static files by their manifest; without one, by version.
    version = getattr(staticfiles_storage, "manifest_hash", "")
    if version:
        script = script.replace(_UNVERSIONED, f'const VERSION = "{version}";')
    return HttpResponse(script, content_type="text/javascript; charset=utf-8")


def _wav(data: bytes) -> HttpResponse:
    return HttpResponse(data, content_type="audio/wav")
