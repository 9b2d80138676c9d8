"""Stop request bodies that are too large before they are read.

Django reads the whole body before any of its code runs, so the limit is applied here. A signed-in
user may send a recording, anyone else only a form.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from http.cookies import CookieError, SimpleCookie
from importlib import import_module
from typing import Any

from channels.auth import get_user
from channels.db import database_sync_to_async
from django.conf import settings
from django.core.serializers.json import DjangoJSONEncoder
from django.urls import reverse

from web.accounts.middleware import shut


class BodyLimit:
    """Wraps the HTTP application."""

    def __init__(self, application: Callable[..., Any]) -> None:
        self.application = application

    async def __call__(
        self, scope: dict[str, Any], receive: Callable[..., Any], send: Callable[..., Any]
    ) -> None:
        declared = _declared_length(scope)
        small = settings.LARGEST_ANONYMOUS_BODY_BYTES
        if scope.get("path") == reverse("intake:stop"):
            # Never reject a stop because of its size: its beginning says whose it is.
            await self.application(_with_length_limit(scope, small), _first(receive, small), send)
            return
        if declared is not None and declared <= small:
            await self.application(scope, _limit_body(receive, small), send)
            return
        if declared is None and scope["method"] in ("GET", "HEAD", "OPTIONS"):
            await self.application(scope, receive, send)
            return
        known = await _signed_in(scope)
        most = settings.LARGEST_BODY_BYTES if known else small
        if declared is not None and declared > most:
            page = known or any(name == b"x-practice-page" for name, _ in scope["headers"])
            much = declared > settings.LARGEST_BODY_BYTES
            await _refuse(send, *shut(is_page_script=page and not much))
            return
        await self.application(scope, _limit_body(receive, most), send)


def _with_length_limit(scope: Any, most: Any) -> Any:
    """Return the scope without a content length if that exceeds the limit."""
    declared = _declared_length(scope)
    if declared is None or declared <= most:
        return scope
    headers = [each for each in scope["headers"] if each[0] != b"content-length"]
    return {**scope, "headers": headers}


def _first(receive: Any, most: Any) -> Any:
    """Return a receiver of a body up to the limit. The rest is read and dropped, so that the sender
    gets the answer."""
    left = most

    async def cut() -> Any:
        nonlocal left
        while True:
            message = await receive()
            if message["type"] != "http.request":
                return message
            body = message.get("body", b"")[:left]
            left -= len(body)
            if body or not message.get("more_body", False):
                return {**message, "body": body}

    return cut


def _declared_length(scope: dict[str, Any]) -> int | None:
    """Return the content length; None if it is missing or not a number."""
    for name, value in scope["headers"]:
        if name == b"content-length":
            return int(value) if value.isdigit() else None
    return None


def _limit_body(receive: Callable[..., Any], most: int) -> Callable[..., Any]:
    """Pass the body on; disconnect if it is longer than its content length."""
    read = 0

    async def counting() -> Any:
        nonlocal read
        message = await receive()
        if message["type"] == "http.request":
            read += len(message.get("body", b""))
            if read > most:
                return {"type": "http.disconnect"}
        return message

    return counting


async def _signed_in(scope: dict[str, Any]) -> bool:
    try:
        cookies = SimpleCookie(
            "; ".join(v.decode("latin-1") for n, v in scope["headers"] if n == b"cookie")
        )
    except CookieError:
        return False
    cookie = cookies.get(settings.SESSION_COOKIE_NAME)
    if cookie is None:
        return False
    session = import_module(settings.SESSION_ENGINE).SessionStore(cookie.value)
    ask = database_sync_to_async(get_user.func, thread_sensitive=False)
    return (await ask({"session": session})).is_authenticated


async def _refuse(send: Callable[..., Any], status: int, payload: dict[str, str]) -> None:
    body = json.dumps(payload, cls=DjangoJSONEncoder).encode()
    headers = [(b"content-type", b"application/json"), (b"connection", b"close")]
    await send({"type": "http.response.start", "status": status, "headers": headers})
    await send({"type": "http.response.body", "body": body})
