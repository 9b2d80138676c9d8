"""The player: one page that leads through a session, the sounds it plays, and what it sends."""

import logging
from functools import lru_cache

from django.conf import settings
from django.contrib.auth.decorators import login_required
from django.contrib.staticfiles import finders
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, render
from django.utils import timezone
from django.views.decorators.http import require_GET, require_POST

from reedcore.devices.tone import melody, reference_tone
from reedcore.errors import Refusal
from reedcore.formats.wav import read_wav, write_wav
from web.accounts.access import client_only, clinician_only
from web.clients.queries import client_seen_by
from web.programmes.document import read_json
from web.programmes.queries import current_programme, note_hz, tasks_of
from web.programmes.sounds import line_of
from web.sound.consumers import KeyTaken
from web.sound.offers import offer_simulated
from web.ui.wording import sentence

from ..actions import client_of, take_in
from ..answers import try_answer, vowel_answer
from ..asked import Asked
from ..entry import BadEntry, Clock, checked
from ..forms import EntryForm, SimulatedForm
from ..plan import session_plan
from ..simulated import MANNERS, comfortable_clip, simulated_clip

logger = logging.getLogger(__name__)


@client_only
@require_GET
def today(request):
    """The client's own session."""
    client = get_object_or_404(request.user.visible_clients().select_related("clinic"))
    return _player(request, client)


@clinician_only
@require_GET
def in_clinic(request, pk):
    """The same, led from the clinician's screen."""
    return _player(request, client_seen_by(request.user, pk))


def _player(request, client):
    programme = current_programme(client)
    if programme is None:
        page = "practice/nothing_yet.html"
        return render(request, page, {"client": client, "clinician": request.user.is_clinician})
    clinic_mode = request.user.is_clinician
    plan, stages = session_plan(programme, client=client, clinic_mode=clinic_mode)
    context = {
        "plan": plan,
        "stages": stages,
        "client": client,
        "programme": programme,
        "clinic_mode": clinic_mode,
        "remembered": bool(request.session.get("remembered")),
        "manners": [(name, label) for name, (label, _, _) in MANNERS.items()],
        "offer_simulated": offer_simulated(),
        "emergency_number": client.clinic.emergency_number,
    }
    return render(request, "practice/player.html", context)


@client_only
@require_POST
def entries(request):
    """One entry of the client's own session."""
    return _entry(request, client_of(request.user))


@clinician_only
@require_POST
def clinic_entries(request, pk):
    """One entry of a session that a clinician leads."""
    return _entry(request, client_of(request.user, pk))


def _entry(request, client):
    """Takes one in and says what it came to; 422 is final, anything else is worth sending again."""
    form = EntryForm(request.POST, request.FILES)
    if not form.is_valid():
        return _refused(next(iter(form.errors.values()))[0])
    try:
        entry = checked(read_json(form.cleaned_data["entry"]))
        sound = form.cleaned_data["recording"]
        arrived = take_in(
            client,
            entry,
            clock=Clock.of(request.POST.get("sent_at"), now=timezone.now()),
            by=request.user,
            wav=read_wav(sound.read()) if sound else None,
        )
    except Refusal as refusal:
        return _refused(sentence(refusal))
    except KeyTaken:
        return _refused("This try could not be told from another one. Load the page again.")
    except (BadEntry, ValueError) as bad:
        logger.warning("an entry was refused: %s", bad)
        return _refused("This could not be kept: it does not fit your programme as it is now.")
    if arrived.trial:
        return JsonResponse(try_answer(arrived.trial))
    if arrived.vowel:
        return JsonResponse(vowel_answer(arrived.vowel, {}))
    return JsonResponse({"kept": True})


def _refused(words):
    return JsonResponse({"sentence": words}, status=422)


@login_required
@require_GET
def tone(request, pk):
    """What a task plays first: its note, or its pattern."""
    asked = Asked(get_object_or_404(tasks_of(request.user), pk=pk))
    hz = note_hz(asked.task)
    if hz is not None:
        return _wav(_tone_bytes(round(hz, 4)))
    a4_hz = asked.task.programme.client.clinic.a4_hz
    line = line_of(asked.item, asked.shipped) if asked.item and asked.shipped else []
    if not line:
        raise Http404
    return _wav(_melody_bytes(tuple((n.hz(a4_hz=a4_hz) if n else None, s) for n, s in line)))


@login_required
@require_GET
def simulated_voice(request, pk):
    """A made-up client's try at this task, for machines without a microphone."""
    task = get_object_or_404(tasks_of(request.user), pk=pk)
    if not offer_simulated():
        raise Http404
    form = SimulatedForm(request.GET)
    if not form.is_valid():
        return JsonResponse({"sentence": "The simulated voice does not know that."}, status=400)
    clip = simulated_clip(Asked(task), **form.cleaned_data)
    return _wav(write_wav(clip.samples, clip.rate_hz))


@client_only
@require_GET
def comfortable_voice(request):
    """The made-up client's comfortable vowel."""
    form = SimulatedForm(request.GET)
    if not offer_simulated() or not form.is_valid():
        raise Http404
    clip = comfortable_clip(client_of(request.user), seed=form.cleaned_data["seed"])
    return _wav(write_wav(clip.samples, clip.rate_hz))


@require_GET
def worker(request):
    """The script that keeps a remembered device's session going without a network.

    Served from here, for a worker may only look after what lies under its own address.
    """
    with open(finders.find("practice/js/worker.js")) as file:
        return HttpResponse(file.read(), content_type="text/javascript; charset=utf-8")


def _wav(data):
    return HttpResponse(data, content_type="audio/wav")


@lru_cache(maxsize=64)
def _tone_bytes(hz):
    return write_wav(reference_tone(hz, duration_s=settings.REFERENCE_TONE_S), 44_100)


@lru_cache(maxsize=64)
def _melody_bytes(line):
    return write_wav(melody(line), 44_100)
