"""Sessions: where a user is signed in, and when an idle session ends."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from allauth.usersessions.adapter import get_adapter
from allauth.usersessions.models import UserSession
from django.contrib import messages
from django.contrib.auth import logout
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone
from django.utils.translation import gettext, ngettext

if TYPE_CHECKING:
    from django.contrib.auth.models import AnonymousUser

    from web.accounts.models import User

#: Session key: time of the last activity.
SEEN = "seen"
#: Session key: the device is shared.
SHARED = "shared"
#: Write the time at most this often.
NOTED_S = 60


def sessions_of(user: User) -> list[UserSession]:
    """Return the active sessions of a user, most recently used first."""
    alive = UserSession.objects.purge_and_list(user)
    return sorted(alive, key=lambda each: each.last_seen_at, reverse=True)


def end_sessions(user: User, *, but: str | None = None) -> int:
    """End the sessions of a user, except one, and return how many ended."""
    ended = [each for each in sessions_of(user) if each.session_key != but]
    get_adapter().end_sessions(ended)
    return len(ended)


def record_session(
    sender: object, request: HttpRequest, user: User | AnonymousUser, **_: Any
) -> None:
    """Record the session of a user with its IP address and browser."""
    UserSession.objects.create_from_request(request, user=user)


def idle_minutes(user: User, session: Any) -> int | None:
    """Return the session timeout in minutes; None without one."""
    if user.is_clinic_staff or session.get(SHARED):
        return user.clinic.idle_minutes
    return None


def is_idle(user: Any, session: Any) -> bool:
    """Return whether a session was idle for longer than its timeout."""
    minutes = idle_minutes(user, session)
    now = timezone.now().timestamp()
    return minutes is not None and now - session.get(SEEN, now) > 60 * minutes


def note_seen(session: Any) -> bool:
    """Record activity in a session, at most once a minute.

    Returns:
        False if the session is not recorded yet, for example because its key has changed.
    """
    now = timezone.now()
    if now.timestamp() - session.get(SEEN, 0) <= NOTED_S:
        return True
    session[SEEN] = now.timestamp()
    own = UserSession.objects.filter(session_key=session.session_key)
    return bool(own.update(last_seen_at=now))


class IdleMiddleware:
    """Sign out staff who were idle for the clinic's session timeout, and
    clients on a shared device.

    A page that looks for news by itself does nothing; a page that is opened and something that is
    do count. What was typed is kept and is restored after the next sign-in.
    """

    def __init__(self, get_response: Callable[..., Any]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        user = request.user
        minutes = idle_minutes(user, request.session) if user.is_authenticated else None
        if user.is_authenticated and minutes is not None:
            if is_idle(user, request.session):
                logout(request)
                messages.info(request, _signed_out_words(minutes, user))
            elif _is_signed_in(request) and not note_seen(request.session):
                record_session(IdleMiddleware, request, user)
        return self.get_response(request)


def _signed_out_words(minutes: int, user: User) -> str:
    """Return a message with the reason for the sign-out and what was kept."""
    kept = (
        gettext("What you typed is kept.")
        if user.is_clinic_staff
        else gettext("What you did is kept.")
    )
    words = ngettext(
        "You were signed out after {minutes} minute without activity.",
        "You were signed out after {minutes} minutes without activity.",
        minutes,
    ).format(minutes=minutes)
    return f"{words} {kept}"


def _is_signed_in(request: HttpRequest) -> bool:
    by_itself = request.headers.get("Sec-Fetch-Mode", "navigate") != "navigate"
    return request.method == "POST" or not by_itself
