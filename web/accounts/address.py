"""Where a request comes from, behind as many proxies as the settings name."""

from __future__ import annotations

from ipaddress import ip_address

from django.conf import settings
from django.http import HttpRequest


def address_of(request: HttpRequest) -> str:
    """Return the address, as the outermost of our own proxies saw it.

    A proxy adds the address it was asked from at the end of ``X-Forwarded-For``; whatever stands
    before what our own ones added, anybody may have written.
    """
    hops = settings.TRUSTED_PROXY_HOPS
    own = request.META.get("REMOTE_ADDR", "")
    if hops == 0:
        return own
    forwarded = [each.strip() for each in request.headers.get("X-Forwarded-For", "").split(",")]
    return forwarded[-hops] if len(forwarded) >= hops and forwarded[-hops] else own


def ip_of(request: HttpRequest) -> str:
    """Return the client IP address, or ``::`` if there is none (request over a local socket)."""
    try:
        return str(ip_address(address_of(request)))
    except ValueError:
        return "::"
