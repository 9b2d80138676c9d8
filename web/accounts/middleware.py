"""Middleware for requests of signed-in users."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any
from zoneinfo import ZoneInfo

from django.conf import settings
from django.contrib.auth import SESSION_KEY
from django.http import HttpRequest, JsonResponse
from django.http.response import HttpResponseBase
from django.urls import reverse
from django.utils import timezone
from django.utils.translation import gettext, gettext_lazy


class AnonymousBodyMiddleware:
    """Refuse large bodies from users who are not signed in: they send only short forms.

    The server itself (:mod:`web.config.body_limit`) stops a large body before it is read; this
    covers servers without it.
    """

    def __init__(self, get_response: Callable[..., Any]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        length = request.META.get("CONTENT_LENGTH") or "0"
        length = int(length) if length.isascii() and length.isdigit() else 0
        # Never reject a stop because of its size: its view reads only the beginning.
        is_stop = request.path == reverse("intake:stop")
        if length > settings.LARGEST_ANONYMOUS_BODY_BYTES and not is_stop:
            if length > settings.LARGEST_BODY_BYTES:
                return JsonResponse({"sentence": TOO_LARGE}, status=413)
            if SESSION_KEY not in request.session:
                status, refusal = shut(is_page_script="X-Practice-Page" in request.headers)
                return JsonResponse(refusal, status=status)
        return self.get_response(request)


def shut(*, is_page_script: bool) -> tuple[int, dict]:
    """Return the answer to a large request without a sign-in: a practice page must sign in again,
    because its data is not too large then."""
    if is_page_script:
        return 401, {"state": "signed_out", "sentence": gettext("Sign in again.")}
    return 413, {"sentence": TOO_LARGE}


TOO_LARGE = gettext_lazy("This is too large to send at once. Send a smaller part.")


class ClinicTimeZoneMiddleware:
    """Shows and reads times as the clinic's clock has them."""

    def __init__(self, get_response: Callable[..., Any]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        user = request.user
        if not user.is_authenticated:
            return self.get_response(request)
        with timezone.override(ZoneInfo(user.clinic.time_zone)):
            return self.get_response(request)


class NoStoreMiddleware:
    """Keep health records out of the caches of shared devices."""

    def __init__(self, get_response: Callable[..., Any]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        response = self.get_response(request)
        if not response.has_header("Cache-Control"):
            response["Cache-Control"] = "no-store"
        return response
