"""The client's address behind the configured number of proxies."""

from __future__ import annotations

from ipaddress import ip_address

from django.conf import settings
from django.http import HttpRequest


def address_of(request: HttpRequest) -> str:
    """Return the address, as the outermost of our own proxies saw it.

    A proxy appends the client's address to ``X-Forwarded-For``; anything before the entries
    of our own proxies may be forged.
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
