"""Receive entries from devices; each succeeds or fails on its own, and stops are separate and
first.

What an answer means to the device: 200 it is kept; 4xx it never will be, this entry alone; 401 sign
in again; 410 the link is closed; 429 and 5xx send it again later.
"""

from __future__ import annotations

import logging
import re
from base64 import b64encode
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from hashlib import sha256
from typing import TYPE_CHECKING, Any
from uuid import UUID, uuid5

from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import DataError, IntegrityError
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.utils import timezone
from django.utils.datastructures import MultiValueDict
from django.utils.translation import gettext, gettext_lazy
from django.views.decorators.csrf import csrf_exempt
from django.views.decorators.http import require_POST

from reedcore.errors import Refusal
from reedcore.formats.wav import read_wav
from reedcore.safety import ASKABLE, Flag
from web.accounts.rate_limit import Limit, is_within_limit
from web.clients.models import Helper
from web.clients.pseudonyms import by_practice_link
from web.clients.queries import link_of
from web.practice.access import CLOSED, client_of, shut_out
from web.practice.page_token import holder_of
from web.screening.actions import take_back
from web.sound.consumers import KeyTaken
from web.sound.pool import RETRY_AFTER_S, PoolBusy
from web.ui.faults import fault_of
from web.ui.request_body import Unreadable, read_json
from web.ui.wording import sentence

from ..actions import note_not_taken, receive_entry, take_stop
from ..answers import epoch_answer, session_answer, try_answer, vowel_answer
from ..clock import Clock
from ..entry import BadEntry, check_entry
from ..forms import LARGEST_ENTRY, LARGEST_RECEIPT, EntryForm, SealedForm
from ..opening import EntryNotDecrypted, open_sealed, opened_text
from ..receipts import NoReceipt, put_back, receipt

if TYPE_CHECKING:
    from web.accounts.models import User
    from web.accounts.requests import SignedInRequest
    from web.clients.models import Client
    from web.intake.actions.entries import ReceivedEntry
    from web.intake.opening import DecryptedEntry

logger = logging.getLogger(__name__)

#: A stop has a few hundred bytes; a sealed one with a long comment, a few thousand. A longer one is
#: stored without its reason.
LARGEST_STOP = settings.LARGEST_ANONYMOUS_BODY_BYTES - 1
_KEYS = UUID("0c0f3f36-6f0d-4a30-8f0f-0b7a9a2d5a55")
#: More than a person can send, and enough for a device's backlog.
ENTRIES = Limit("entries of a client", most=600, window_s=60)
STOPS = Limit("stops of a client", most=100, window_s=60)


@require_POST
def entries(request: HttpRequest) -> HttpResponse:
    """Return one entry of the client's own session."""
    return _for_signed_in_account(request, None, _entry)


@require_POST
def clinic_entries(request: HttpRequest, pk: int) -> Any:
    """Return one entry of a session that is led in the clinic."""
    return _for_signed_in_account(request, pk, _entry)


@require_POST
def opened_entry(request: HttpRequest) -> Any:
    """Return the content of an encrypted entry of the client's own device, for saving to a file."""
    return _for_signed_in_account(request, None, _open_entry)


@require_POST
def clinic_opened_entry(request: HttpRequest, pk: int) -> Any:
    """Return the content of an encrypted entry of a session in the clinic."""
    return _for_signed_in_account(request, pk, _open_entry)


def _for_signed_in_account(
    request: Any, pk: int | None, answer: Callable[..., Any]
) -> HttpResponse:
    """Accept entries only for the account that the page was made for; a different user signs in
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
    if not is_within_limit(ENTRIES, client.pk):
        return _later(429, ENTRIES.window_s)
    return answer(request, client)


def _open_entry(request: SignedInRequest, client: Client) -> HttpResponse:
    try:
        found = _unseal(request, client)
    except EntryNotDecrypted:
        return _refusal(str(SHUT))
    if not _may_read(found.words, client, request.user):
        return _refusal(str(SOMEBODY_ELSES))
    sound = b64encode(found.sound).decode() if found.sound else None
    return JsonResponse({"entry": found.words, "recording": sound})


def _may_read(words: str, client: Client, user: User) -> bool:
    """Return whether this user may read an encrypted entry: their own, or a client's whom they
    treat."""
    if user.leads_sessions:
        return True
    try:
        entry = read_json(words, most_bytes=LARGEST_ENTRY, should_clean=True)
    except Unreadable:
        entry = None
    session = entry.get("session") if isinstance(entry, dict) else None
    helper = session.get("helper") if isinstance(session, dict) else None
    link = link_of(client, user)
    own = link.pk if isinstance(link, Helper) else None
    return helper == own


def _unseal(request: SignedInRequest, client: Client) -> DecryptedEntry:
    """Decrypt an entry in the form in which a device stored it.

    Raises:
        EntryNotDecrypted: it cannot be opened, or is too large to be tried.
    """
    form = SealedForm(request.POST, request.FILES)
    if not form.is_valid():
        raise EntryNotDecrypted("it is no file, or too large")
    return open_sealed(client, form.cleaned_data["sealed"].read())


def _form(request: SignedInRequest, client: Client) -> EntryForm | Receipt:
    """Return an entry in the form of its own page, or in the form in which a device stored it.

    Raises:
        EntryNotDecrypted: it cannot be opened.
    """
    if "sealed" not in request.FILES:
        return EntryForm(request.POST, request.FILES)
    found = _unseal(request, client)
    given = _find_receipt(found.words)
    if given is not None:
        return given
    files: MultiValueDict[str, Any] = MultiValueDict()
    if found.sound:
        files["recording"] = SimpleUploadedFile("try.wav", found.sound)
    return EntryForm({"entry": found.words}, files)


@dataclass(frozen=True)
class Receipt:
    """A receipt that a device returns for an entry it sent."""

    text: str


def _find_receipt(words: str) -> Receipt | None:
    try:
        receipt = read_json(words, most_bytes=LARGEST_RECEIPT, should_clean=True)
    except Unreadable:
        return None
    given = receipt.get("receipt") if isinstance(receipt, dict) else None
    return Receipt(given) if isinstance(given, str) else None


def _entry(request: SignedInRequest, client: Client) -> HttpResponse:
    try:
        form = _form(request, client)
    except EntryNotDecrypted as shut:
        note_not_taken(client, "", reason=str(shut), key=_digest_of(request.FILES["sealed"]))
        return _refusal(str(SHUT))
    refused = partial(_log_refusal, client, form)
    if isinstance(form, Receipt):
        return _put_back(request, client, form)
    if not form.is_valid():
        return refused(str(next(iter(form.errors.values()))[0]))
    try:
        entry = check_entry(
            read_json(form.cleaned_data["entry"], most_bytes=LARGEST_ENTRY, should_clean=True)
        )
        sound = form.cleaned_data["recording"]
        arrived = receive_entry(
            client,
            entry,
            clock=Clock.of(request.POST.get("sent_at"), now=timezone.now()),
            by=request.user,
            wav=read_wav(sound.read()) if sound else None,
        )
    except Refusal as refusal:
        return refused(sentence(refusal))
    except KeyTaken:
        return refused(gettext("This try has no valid ID. Reload the page."))
    except PoolBusy:
        return _later(503, RETRY_AFTER_S)
    except (BadEntry, Unreadable, ValueError) as bad:
        logger.warning("entry_rejected", extra={"error": type(bad).__name__})
        return refused(str(MISFIT), reason=_reason(bad))
    except (DataError, IntegrityError):
        # The database's own checks: sending the entry again would not help.
        logger.exception("entry_not_saved", extra={"fault": fault_of(request)})
        return refused(str(MISFIT), reason=f"fault {fault_of(request)}")
    return JsonResponse(_answer(client, arrived))


def _answer(client: Client, arrived: ReceivedEntry) -> dict[str, Any]:
    """Return the answer about a stored entry, with the receipt and the epoch it belongs
    to."""
    if arrived.trial:
        return try_answer(arrived.trial)
    if arrived.vowel:
        return vowel_answer(arrived.vowel, {})
    rows = (arrived.session, arrived.report)
    given = {"receipt": receipt(client, *rows)} if arrived.session else {}
    return {"kept": True, **given, **session_answer(arrived.session)}


def _put_back(request: SignedInRequest, client: Client, given: Receipt) -> HttpResponse:
    """Restore entries that the clinic had acknowledged before its records were restored."""
    try:
        put_back(client, given.text)
    except NoReceipt as not_one:
        key = _digest(given.text)
        note_not_taken(client, "", reason=f"after a restore: {not_one}", key=key)
        return _refusal(str(MISFIT))
    return JsonResponse({"kept": True, "receipt": given.text, **epoch_answer()})


SHUT = gettext_lazy("The practice saved on this device could not be opened. Tell your clinic.")
SOMEBODY_ELSES = gettext_lazy(
    "Another person saved this on this device. Only that person and the clinic can open it."
)
MISFIT = gettext_lazy("This could not be saved: it does not fit your current programme.")


def _reason(bad: Any) -> str:
    """Return the cause for support: field and rule, without content of the entry."""
    return (
        str(bad) if isinstance(bad, BadEntry | Unreadable) else gettext("a value that does not fit")
    )


def _log_refusal(client: Any, form: Any, words: str, *, reason: str = "") -> HttpResponse:
    note_not_taken(client, form.data.get("entry", ""), reason=reason or words)
    return _refusal(words)


def _refusal(words: str) -> HttpResponse:
    return JsonResponse({"state": "refused", "sentence": words}, status=422)


def _later(status: int, seconds: int) -> HttpResponse:
    words = gettext("The clinic is busy. This is sent again automatically.")
    response = JsonResponse({"sentence": words}, status=status)
    response["Retry-After"] = str(seconds)
    return response


@csrf_exempt  # Only the page's signed token grants access.
@require_POST
@by_practice_link
def stop(request: HttpRequest) -> HttpResponse:
    """Keep a stop, or that it was pressed by mistake.

    A stop with a genuine page token is stored: signed in or not, under a link that was replaced or
    by an account that was closed, with any time, key, reason and length. What cannot be read of it
    is kept as "reason unknown"."""
    report = _parse_stop(request.read(LARGEST_STOP + 1))
    holder = holder_of(report.get("page"))
    if holder is None:
        return JsonResponse(
            {"sentence": gettext("This was not sent from a practice page.")}, status=403
        )
    if not is_within_limit(STOPS, holder.client.pk):
        return _later(429, STOPS.window_s)
    key = _key(report.get("key"))
    if report.get("taken_back") is True:
        goes_on = take_back(holder.client, key)
        return JsonResponse({"kept": True, "goes_on": goes_on, **epoch_answer()})
    flags, report = _reasons(holder.client, report)
    session = report.get("session")
    entry = {
        "key": str(key),
        "flags": flags,
        "at": report.get("at"),
        "comment": str(report.get("comment") or "")[:500],
        "session": {"key": str(_key(session))} if session else {},
    }
    clock = Clock.of(report.get("sent_at"), now=timezone.now())
    if take_stop(holder.client, entry, clock=clock) is None:
        # The record was erased after the page was looked up.
        return JsonResponse({"sentence": CLOSED, "state": "closed"}, status=410)
    state = "open" if holder.can_send else "closed"
    return JsonResponse(
        {"kept": True, "state": state, "keeps": holder.is_replaced, **epoch_answer()}
    )


#: Find the page's token and the stop's key in a damaged body.
_PAGE = re.compile(rb'"page"\s*:\s*"([^"\\]{1,600})"')
_STOP_KEY = re.compile(rb'"key"\s*:\s*"([^"\\]{1,64})"')


def _parse_stop(body: bytes) -> dict:
    """Return the content of a stop report; from a long or damaged body, its page token and key. A
    report without a key gets the same key each time."""
    try:
        report = read_json(body, most_bytes=LARGEST_STOP, should_clean=True)
        return report if isinstance(report, dict) else {}
    except Unreadable:
        page, key = _PAGE.search(body), _STOP_KEY.search(body)
        return {
            "page": page[1].decode("ascii", "replace") if page else "",
            "key": key[1].decode("ascii", "replace") if key else sha256(body).hexdigest(),
            "taken_back": b'"taken_back":true' in body.replace(b" ", b""),
        }


def _reasons(client: Client, report: Any) -> tuple[Any, ...]:
    """Return the flags and the stop from an encrypted report. If a part cannot be read, the reason
    is unknown in addition to the readable flags."""
    unknown = set()
    if "sealed" in report:
        try:
            report = report | _sealed_stop(opened_text(client, str(report["sealed"])))
        except EntryNotDecrypted as shut:
            note_not_taken(client, "", reason=f"stop: {shut}", key=_digest(str(report["sealed"])))
            unknown = {Flag.UNKNOWN_REASON.value}
    flags = _known_flags(report.get("flags")) | unknown
    return sorted(flags or {Flag.UNKNOWN_REASON.value}), report


def _digest_of(file: Any) -> str:
    file.seek(0)
    return _digest(file.read(LARGEST_ENTRY))


def _digest(sealed: str | bytes) -> str:
    """Return a key for an unreadable report, the same each time it is sent."""
    raw = sealed.encode("utf-8", "replace") if isinstance(sealed, str) else sealed
    return gettext("sealed {value}").format(value=sha256(raw).hexdigest()[:30])


def _sealed_stop(text: str) -> dict[str, Any] | None:
    """Return the encrypted part of a stop report."""
    try:
        kept = read_json(text, most_bytes=LARGEST_STOP, should_clean=True)
    except Unreadable:
        kept = None
    if not isinstance(kept, dict):
        raise EntryNotDecrypted("it holds no stop")
    return {name: kept.get(name) for name in ("flags", "comment", "session")}


def _known_flags(flags: list[Any] | str | None) -> set[Any]:
    """Return the known flags; flags of other versions are ignored."""
    codes = flags if isinstance(flags, list) else []
    return {flag.value for flag in ASKABLE if flag.value in codes}


def _key(text: Any) -> UUID:
    """Return the key that was sent; of anything else one that is always the same for it."""
    try:
        return UUID(str(text))
    except ValueError:
        return uuid5(_KEYS, str(text))
