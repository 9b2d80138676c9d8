"""Addresses that a form returns to."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from django.urls import reverse
from django.utils.http import url_has_allowed_host_and_scheme


def return_address(request: HttpRequest, usual: str, **arguments: Any) -> str:
    """Return the page of this site that the form named, or the usual one."""
    address = request.POST.get("next", "")
    ours = url_has_allowed_host_and_scheme(address, allowed_hosts=None)
    return address if address.startswith("/") and ours else reverse(usual, kwargs=arguments or None)
