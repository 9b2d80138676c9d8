"""Error pages: each says what to do next."""

from __future__ import annotations

from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.http.response import Http404
from django.shortcuts import render
from django.urls.exceptions import Resolver404
from django.utils.translation import gettext

from .faults import RETRY_AFTER_S, database_is_away, fault_of


def bad_request(request: HttpRequest, exception: RequestDataTooBig | None = None) -> HttpResponse:
    """Return the page for a request that cannot be read."""
    return render(request, "ui/problem.html", {"kind": "bad_request"}, status=400)


def forbidden(request: HttpRequest, exception: Any = None) -> HttpResponse:
    """Return the page for an action that is not allowed."""
    return render(request, "ui/problem.html", {"kind": "forbidden"}, status=403)


def form_expired(request: HttpRequest, reason: str = "") -> HttpResponse:
    """Return the page for a form with an invalid token: an old page, or blocked cookies."""
    return render(request, "ui/problem.html", {"kind": "form_expired"}, status=403)


def not_found(request: HttpRequest, exception: Http404 | Resolver404 | None = None) -> HttpResponse:
    """Return the page for an address that does not exist."""
    return render(request, "ui/problem.html", {"kind": "not_found"}, status=404)


def server_error(request: HttpRequest) -> HttpResponse:
    """Return the page for an internal error with its id in the log, or for a database that is
    away."""
    if database_is_away():
        return _redirect_home(request)
    context = {"fault": fault_of(request)}
    # Rendered without the request, which may have caused the error.
    return render(None, "ui/server_error.html", context, status=500)


def _redirect_home(request: HttpRequest) -> HttpResponse:
    after = {"Retry-After": str(RETRY_AFTER_S)}
    if request is not None and "application/json" in request.headers.get("Accept", ""):
        words = gettext(
            "The clinic’s records cannot be reached right now. This is retried automatically."
        )
        return JsonResponse({"sentence": words}, status=503, headers=after)
    response = render(None, "ui/away.html", {"seconds": RETRY_AFTER_S}, status=503)
    response["Retry-After"] = after["Retry-After"]
    return response
