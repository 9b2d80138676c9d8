"""Where somebody is signed in, and how long that holds while nothing is done."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import TYPE_CHECKING, Any

from django.contrib import messages
from django.contrib.auth import SESSION_KEY, logout
from django.contrib.sessions.models import Session
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone

from .address import address_of

if TYPE_CHECKING:
    from web.accounts.models import User

#: In the session: when something was done last, and where it was begun from.
SEEN, BEGUN = "seen", "begun"
#: Says of a sign-in that the device is one that others use too.
SHARED = "shared"
#: It is noted no more often than this.
NOTED_S = 60


@dataclass(frozen=True)
class Place:
    """One session of somebody's."""

    key: str
    begun: datetime | None
    seen: datetime | None
    address: str
    device: str


def places_of(user: Any) -> Iterator[Place]:
    """Each session in which this person is signed in, the newest first."""
    found = []
    for session in sessions_of(user.pk):
        kept = session.get_decoded()
        begun = kept.get(BEGUN, {})
        found.append(
            Place(
                session.session_key,
                _time(begun.get("at")),
                _time(kept.get(SEEN)),
                begun.get("address", ""),
                begun.get("device", ""),
            )
        )
    long_ago = datetime.fromtimestamp(0, UTC)
    return iter(sorted(found, key=lambda each: each.seen or each.begun or long_ago, reverse=True))


def sessions_of(user_pk: int) -> Iterator[Session]:
    """The same as rows."""
    for session in Session.objects.filter(expire_date__gt=timezone.now()).iterator():
        if session.get_decoded().get(SESSION_KEY) == str(user_pk):
            yield session


def end_sessions(user_pk: Any, *, but: str | None = None) -> int:
    """Signs somebody out everywhere (but here); how often that was."""
    ended = [each for each in sessions_of(user_pk) if each.session_key != but]
    for session in ended:
        session.delete()
    return len(ended)


def _time(stamp: float | None) -> datetime | None:
    return datetime.fromtimestamp(stamp, UTC) if isinstance(stamp, int | float) else None


def idle_minutes(user: User, session: Any) -> int | None:
    """After how many minutes without anything done a sign-in ends; None where it does not."""
    if user.works_here or session.get(SHARED):
        return user.clinic.idle_minutes
    return None


def is_idle(user: Any, session: Any) -> bool:
    """Return whether nothing has been done in this sign-in for longer than it holds."""
    minutes = idle_minutes(user, session)
    now = timezone.now().timestamp()
    return minutes is not None and now - session.get(SEEN, now) > 60 * minutes


def note_seen(session: Any) -> None:
    """Note that something is being done, no more often than is worth a row."""
    now = timezone.now().timestamp()
    if now - session.get(SEEN, 0) > NOTED_S:
        session[SEEN] = now


class IdleMiddleware:
    """Signs whoever works here out who has done nothing for as long as the clinic allows; and a
    client, on a device that others use too.

    A page that looks for news by itself does nothing; a page that is opened and something that is
    sent do. What was typed is kept meanwhile, and is back after the next sign-in.
    """

    def __init__(self, get_response: Callable[..., Any]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        user = request.user
        minutes = idle_minutes(user, request.session) if user.is_authenticated else None
        if minutes is not None:
            if is_idle(user, request.session):
                logout(request)
                words = f"You were signed out after {minutes} minutes without activity. What you"
                messages.info(request, f"{words} {'typed' if user.works_here else 'did'} is kept.")
            elif _is_somebody(request):
                note_seen(request.session)
                if BEGUN not in request.session:
                    request.session[BEGUN] = _begun(request, timezone.now().timestamp())
        return self.get_response(request)


def _is_somebody(request: HttpRequest) -> bool:
    by_itself = request.headers.get("Sec-Fetch-Mode", "navigate") != "navigate"
    return request.method == "POST" or not by_itself


def _begun(request: HttpRequest, now: float) -> dict[str, Any]:
    device = request.headers.get("User-Agent", "")[:120]
    return {"at": now, "address": address_of(request), "device": device}
