"""Practising: the client's pages, and the sounds they are led by."""

from functools import lru_cache

from django.contrib.auth import authenticate, login
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.views.decorators.http import require_GET, require_POST

from reedcore.devices.tone import reference_tone
from reedcore.errors import Refusal
from reedcore.formats.wav import read_wav, write_wav
from web.accounts.access import client_only
from web.clients.queries import client_by_practice_code
from web.programmes.queries import current_task, note_hz, tasks_of
from web.sound.consumers import KeyTaken
from web.sound.offers import offer_simulated
from web.sound.uploads import TakeFileForm
from web.ui.wording import sentence

from .actions import record_by_hand, record_sound
from .forms import ByHandForm, PinForm, SimulatedForm
from .models import Trial
from .presenters import stage
from .queries import tries_today
from .simulated import MANNERS, simulated_clip

TONE_S = 2.0


def enter(request, code):
    """The client's own link: asks for the PIN and shows nothing else."""
    client = client_by_practice_code(code)
    form = PinForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        user = authenticate(
            request, username=client.account.username, password=form.cleaned_data["pin"]
        )
        if user is not None:
            login(request, user)
            return redirect("practice:today")
        form.add_error("pin", "That PIN does not open this link. Try again, or ask your clinician.")
    return render(request, "practice/enter.html", {"form": form, "clinic": client.clinic})


@client_only
@require_GET
def today(request):
    """The one task, and everything it takes to practise it."""
    client = get_object_or_404(request.user.visible_clients())
    task = current_task(client)
    if task is None:
        return render(request, "practice/nothing_yet.html", {"client": client})
    context = {
        **stage(task, list(tries_today(task))),
        "client": client,
        "manners": [(name, label) for name, (label, _, _) in MANNERS.items()],
        "offer_simulated": offer_simulated(),
    }
    return render(request, "practice/today.html", context)


@client_only
@require_GET
def tone(request, pk):
    """The reference tone of a task's note."""
    task = get_object_or_404(tasks_of(request.user), pk=pk)
    hz = note_hz(task)
    if hz is None:
        raise Http404
    return _wav(_tone_bytes(round(hz, 4)))


@client_only
@require_GET
def simulated_voice(request, pk):
    """A made-up client's try at this task, for machines without a microphone."""
    task = get_object_or_404(tasks_of(request.user), pk=pk)
    if not offer_simulated():
        raise Http404
    form = SimulatedForm(request.GET)
    if not form.is_valid():
        return JsonResponse({"sentence": "The simulated voice does not know that."}, status=400)
    clip = simulated_clip(task, **form.cleaned_data)
    return _wav(write_wav(clip.samples, clip.rate_hz))


@client_only
@require_POST
def recording(request, pk):
    """A try from a WAV file."""
    task = get_object_or_404(tasks_of(request.user), pk=pk)
    form = TakeFileForm(request.POST, request.FILES)
    if not form.is_valid():
        return _refused(_first_error(form))
    try:
        wav = read_wav(form.cleaned_data["recording"].read())
        record_sound(
            task,
            key=form.cleaned_data["key"],
            source=Trial.Source.FILE,
            samples=wav.samples,
            rate_hz=wav.rate_hz,
        )
    except Refusal as refusal:
        return _refused(sentence(refusal))
    except KeyTaken:
        return _refused("This try could not be told from another one. Load the page again.")
    return _saved(task)


@client_only
@require_POST
def by_hand(request, pk):
    """A try timed with the stopwatch."""
    task = get_object_or_404(tasks_of(request.user), pk=pk)
    form = ByHandForm(request.POST)
    if not form.is_valid():
        return _refused(_first_error(form))
    try:
        record_by_hand(task, **form.cleaned_data)
    except KeyTaken:
        return _refused("This try could not be told from another one. Load the page again.")
    return _saved(task)


def rendered_stage(task):
    """The middle of the practice screen as HTML, with the newest try's result."""
    return render_to_string("practice/_stage.html", stage(task, list(tries_today(task))))


def _saved(task):
    return JsonResponse({"stage": rendered_stage(task)})


def _refused(words):
    return JsonResponse({"sentence": words}, status=422)


def _first_error(form):
    return next(iter(form.errors.values()))[0]


def _wav(data):
    return HttpResponse(data, content_type="audio/wav")


@lru_cache(maxsize=64)
def _tone_bytes(hz):
    return write_wav(reference_tone(hz, duration_s=TONE_S), 44_100)
