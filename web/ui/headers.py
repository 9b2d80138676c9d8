"""Headers that limit what a page can load and which sites can embed it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.http import HttpRequest
from django.http.response import HttpResponseBase

#: Pages that may use the microphone, and the camera as a mirror: practice and the baseline sheet.
LISTENING = ("/practice/", "/clients/baselines/")
_NONE = "microphone=(), camera=(), geolocation=()"
_DEVICES = "microphone=(self), camera=(self), geolocation=()"


class DeviceHeadersMiddleware:
    """Let only those pages ask for microphone and camera, and no other site read an answer."""

    def __init__(self, get_response: Callable[..., Any]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponseBase:
        response = self.get_response(request)
        listens = request.path.startswith(LISTENING)
        response["Permissions-Policy"] = _DEVICES if listens else _NONE
        response["Cross-Origin-Resource-Policy"] = "same-origin"
        return response
