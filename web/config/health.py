"""Health checks and metrics in the Prometheus text format.

`/health/live` is open, for it tells nothing. The others want the token that `HEALTH_TOKEN` sets, as
`Authorization: Bearer …`; without one in the settings they do not exist.
"""

from __future__ import annotations

import hmac
import os
import time
from collections.abc import Callable
from functools import wraps
from typing import Any

from django.conf import settings
from django.db import DatabaseError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.http.response import HttpResponseBase
from django.views.decorators.http import require_GET
from prometheus_client import CollectorRegistry, Counter, Gauge, Histogram, generate_latest
from prometheus_client.multiprocess import MultiProcessCollector

from web.scheduled.readiness import figures, findings
from web.sound.engine import ENGINE
from web.ui.version import version

METHODS = frozenset({"GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"})
REQUESTS = Counter("still_reed_requests", "Answers given.", ["page", "method", "status"])
SECONDS = Histogram(
    "still_reed_request_seconds",
    "How long an answer took.",
    ["page"],
    buckets=(0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 10),
)
TAKES = Gauge(
    "still_reed_live_takes", "Takes measured while they sound.", multiprocess_mode="livesum"
)


class MetricsMiddleware:
    """Counts every answer, by its page's name: a path may open something."""

    def __init__(self, get_response: Callable[..., Any]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        began = time.perf_counter()
        response = self.get_response(request)
        page = request.resolver_match.view_name if request.resolver_match else "none"
        # Ignore unknown methods: each name would be stored permanently.
        method = request.method if request.method in METHODS else "other"
        REQUESTS.labels(page, method, response.status_code).inc()
        SECONDS.labels(page).observe(time.perf_counter() - began)
        TAKES.set(ENGINE.takes)
        return response


def token_required(view: Any) -> Any:
    """Answer requests that carry the token; to others the page does not exist."""

    @wraps(view)
    def guarded(request: HttpRequest) -> Any:
        token = settings.HEALTH_TOKEN
        given = request.headers.get("Authorization", "").removeprefix("Bearer ")
        if not token or not hmac.compare_digest(given.encode(), token.encode()):
            raise Http404
        return view(request)

    return guarded


@require_GET
def live(request: HttpRequest) -> HttpResponse:
    """Answer that the process runs."""
    return HttpResponse("alive\n", content_type="text/plain")


@require_GET
@token_required
def ready(request: HttpRequest) -> HttpResponse:
    """Return whether the site can do its work (else status 503), and the findings."""
    found = findings()
    stands = all(each.is_ready for each in found)
    answer = {
        "ready": stands,
        "version": version(),
        "warnings": [each.name for each in found if each.has_warning],
        **{each.name: {"stands": each.is_ready, "is": each.words} for each in found},
    }
    return JsonResponse(answer, status=200 if stands else 503)


@require_GET
@token_required
def metrics(request: HttpRequest) -> HttpResponse:
    """Return this process's counters (all processes' with PROMETHEUS_MULTIPROC_DIR), and figures
    from the database."""
    registry = CollectorRegistry()
    if os.environ.get("PROMETHEUS_MULTIPROC_DIR"):
        MultiProcessCollector(registry)
    else:
        for each in (REQUESTS, SECONDS, TAKES):
            registry.register(each)
    try:
        for name, words, value in figures():
            Gauge(f"still_reed_{name}", words, registry=registry).set(value)
    except DatabaseError:
        pass  # Metrics work without the database; `ready` reports that it is missing.
    return HttpResponse(generate_latest(registry), content_type="text/plain; version=0.0.4")
