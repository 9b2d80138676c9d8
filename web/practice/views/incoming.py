"""What a device sends of a session: entries, each with a fate of its own, and stops, apart from all
else and before it.

What an answer means to the device: 200 it is kept; 4xx it never will be, this entry alone; 401 sign
in again; 410 the link is closed; 429 and 5xx send it again later.
"""

import logging
from base64 import b64encode
from functools import partial
from uuid import UUID, uuid5

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import DataError, IntegrityError
from django.http import JsonResponse
from django.utils import timezone
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST

from reedcore.errors import Refusal
from reedcore.formats.wav import read_wav
from reedcore.safety import Flag
from web.accounts.guessing import Limit, allowed
from web.clients.actions import take_back
from web.sound.consumers import KeyTaken
from web.sound.pool import RETRY_AFTER_S, Busy
from web.ui.faults import fault_of
from web.ui.incoming import Unreadable, read_json
from web.ui.wording import sentence

from ..access import client_of, holder_of, shut_out
from ..actions import note_not_taken, take_in, take_stop
from ..answers import try_answer, vowel_answer
from ..clock import Clock
from ..entry import BadEntry, checked
from ..forms import LARGEST_ENTRY, EntryForm, SealedForm
from ..sealing import Unopened, opened, opened_text

logger = logging.getLogger(__name__)

#: A stop is a few hundred bytes; one that lay sealed, with a long comment, a few thousand.
LARGEST_STOP = 8_192
_KEYS = UUID("0c0f3f36-6f0d-4a30-8f0f-0b7a9a2d5a55")
#: More than anybody's fingers do, and less than a device's backlog minds waiting for.
ENTRIES = Limit("entries of a client", most=600, window_s=60)
STOPS = Limit("stops of a client", most=100, window_s=60)


@require_POST
def entries(request):
    """One entry of the client's own session."""
    return _of_whoever_is_in(request, None, _entry)


@require_POST
def clinic_entries(request, pk):
    """One entry of a session that is led in the clinic."""
    return _of_whoever_is_in(request, pk, _entry)


@require_POST
def opened_entry(request):
    """What lies sealed on the client's own device, for saving it to a file."""
    return _of_whoever_is_in(request, None, _opened)


@require_POST
def clinic_opened_entry(request, pk):
    """The same, of a session that was led in the clinic."""
    return _of_whoever_is_in(request, pk, _opened)


def _of_whoever_is_in(request, pk, answer):
    """An entry is taken from whom its page was made for; whoever else is signed in by now signs in
    again, and the entry waits."""
    user = request.user
    if not user.is_authenticated or user.leads_sessions == (pk is None):
        return shut_out(request)
    client = client_of(user, pk)
    if client is None:
        return shut_out(request)
    page = holder_of(request.headers.get("X-Practice-Page", ""))
    if page is not None and page.client.pk != client.pk:
        return shut_out(request)
    if not allowed(ENTRIES, client.pk):
        return _later(429, ENTRIES.window_s)
    return answer(request, client)


def _opened(request, client):
    try:
        found = _unsealed(request, client)
    except Unopened:
        return _refusal(SHUT)
    sound = b64encode(found.sound).decode() if found.sound else None
    return JsonResponse({"entry": found.words, "recording": sound})


def _unsealed(request, client):
    """What came as it lay on its device.

    Raises:
        Unopened: it cannot be opened, or is too large to be tried.
    """
    form = SealedForm(request.POST, request.FILES)
    if not form.is_valid():
        raise Unopened("it is no file, or too large")
    return opened(client, form.cleaned_data["sealed"].read())


def _form(request, client):
    """An entry as the page sends it on which it was done; or as it lay sealed on its device, where
    that page is gone.

    Raises:
        Unopened: it cannot be opened.
    """
    if "sealed" not in request.FILES:
        return EntryForm(request.POST, request.FILES)
    found = _unsealed(request, client)
    files = {"recording": SimpleUploadedFile("try.wav", found.sound)} if found.sound else {}
    return EntryForm({"entry": found.words}, files)


def _entry(request, client):
    try:
        form = _form(request, client)
    except Unopened as shut:
        note_not_taken(client, "", reason=str(shut))
        return _refusal(SHUT)
    refused = partial(_refused, client, form)
    if not form.is_valid():
        return refused(next(iter(form.errors.values()))[0])
    try:
        entry = checked(read_json(form.cleaned_data["entry"], most_bytes=LARGEST_ENTRY, mend=True))
        sound = form.cleaned_data["recording"]
        arrived = take_in(
            client,
            entry,
            clock=Clock.of(request.POST.get("sent_at"), now=timezone.now()),
            by=request.user,
            wav=read_wav(sound.read()) if sound else None,
        )
    except Refusal as refusal:
        return refused(sentence(refusal))
    except KeyTaken:
        return refused("This try could not be told from another one. Load the page again.")
    except Busy:
        return _later(503, RETRY_AFTER_S)
    except (BadEntry, Unreadable, ValueError) as bad:
        logger.warning("an entry was refused: %s", type(bad).__name__)
        return refused(MISFIT, reason=_reason(bad))
    except (DataError, IntegrityError):
        # the database is the last to look: what it does not take, no second sending will change
        logger.exception("fault %s: the database took no entry", fault_of(request))
        return refused(MISFIT, reason=f"fault {fault_of(request)}")
    if arrived.trial:
        return JsonResponse(try_answer(arrived.trial))
    if arrived.vowel:
        return JsonResponse(vowel_answer(arrived.vowel, {}))
    return JsonResponse({"kept": True})


SHUT = "What this device kept could not be opened. Tell your clinic."
MISFIT = "This could not be kept: it does not fit your programme as it is now."


def _reason(bad):
    """The cause for whoever helps; these say a place and a rule, and repeat nothing of the
    entry."""
    return str(bad) if isinstance(bad, BadEntry | Unreadable) else "a value that does not fit"


def _refused(client, form, words, *, reason=""):
    note_not_taken(client, form.data.get("entry", ""), reason=reason or words)
    return _refusal(words)


def _refusal(words):
    return JsonResponse({"state": "refused", "sentence": words}, status=422)


def _later(status, seconds):
    words = "Too much is being worked on just now. This is sent again by itself."
    response = JsonResponse({"sentence": words}, status=status)
    response["Retry-After"] = str(seconds)
    return response


@csrf_exempt  # a page's own signed token opens it, and nothing but this
@require_POST
def stop(request):
    """A client says that something is wrong, or that saying so was a slip. Takes what it can
    of whatever comes: signed in or not, on a link that has been replaced, with any time and any
    key."""
    if len(request.body) > LARGEST_STOP:
        return JsonResponse({"sentence": "This is no stop."}, status=413)
    try:
        said = read_json(request.body, most_bytes=LARGEST_STOP, mend=True)
    except Unreadable:
        said = None
    holder = holder_of(said.get("page")) if isinstance(said, dict) else None
    if holder is None:
        return JsonResponse({"sentence": "This is not from a practice page of ours."}, status=403)
    if not allowed(STOPS, holder.client.pk):
        return _later(429, STOPS.window_s)
    key = _key(said.get("key"))
    if said.get("taken_back") is True:
        return JsonResponse({"kept": True, "goes_on": take_back(holder.client, key)})
    if "sealed" in said:
        try:
            said |= _of_stop(opened_text(holder.client, str(said["sealed"])))
        except Unopened as shut:
            note_not_taken(holder.client, "", reason=f"stop: {shut}")
            return _refusal(SHUT)
    flags = sorted(_known(said.get("flags")))
    if not flags:
        return _refusal("Nothing was said to be wrong.")
    session = said.get("session")
    entry = {
        "key": str(key),
        "flags": flags,
        "at": said.get("at"),
        "comment": str(said.get("comment") or "")[:500],
        "session": {"key": str(_key(session))} if session else {},
    }
    take_stop(holder.client, entry, clock=Clock.of(said.get("sent_at"), now=timezone.now()))
    return JsonResponse({"kept": True, "state": "open" if holder.stands else "closed"})


def _of_stop(text):
    """What of a stop lies sealed on its device; nothing else of it is taken from there."""
    try:
        kept = read_json(text, most_bytes=LARGEST_STOP, mend=True)
    except Unreadable:
        kept = None
    if not isinstance(kept, dict):
        raise Unopened("it holds no stop")
    return {name: kept.get(name) for name in ("flags", "comment", "session")}


def _known(flags):
    """The flags that there are; what a page of another version says besides is passed over."""
    said = flags if isinstance(flags, list) else []
    return {flag.value for flag in Flag if flag.value in said}


def _key(text) -> UUID:
    """The key that was sent; of anything else one that is always the same for it."""
    try:
        return UUID(str(text))
    except ValueError:
        return uuid5(_KEYS, str(text))
