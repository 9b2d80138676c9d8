"""The key pair that signs reminders on devices (VAPID, RFC 8292), P-256 in base64url."""

from __future__ import annotations

from base64 import urlsafe_b64encode
from functools import cache

from cryptography.hazmat.primitives import serialization
from django.conf import settings


def new_private_key() -> str:
    """Return a new private key, as the setting WEB_PUSH_KEY takes it."""
    from py_vapid import Vapid02

    vapid = Vapid02()
    vapid.generate_keys()
    number = vapid.private_key.private_numbers().private_value
    return _encode(number.to_bytes(32, "big"))


def public_key() -> str:
    """Return the public key for a browser; "" where the site has no key."""
    return _public_key(settings.WEB_PUSH_KEY) if settings.WEB_PUSH_KEY else ""


@cache
def _public_key(private: str) -> str:
    from py_vapid import Vapid02

    found = Vapid02.from_string(private).public_key
    point = found.public_bytes(
        serialization.Encoding.X962, serialization.PublicFormat.UncompressedPoint
    )
    return _encode(point)


def _encode(data: bytes) -> str:
    return urlsafe_b64encode(data).rstrip(b"=").decode()
