"""The site's keys, as they seal what lies in the database or in the journal."""

import base64
import hashlib

from cryptography.fernet import Fernet, InvalidToken, MultiFernet
from django.conf import settings


def box(purpose: str) -> MultiFernet:
    """Return what seals under the site's newest key and opens by any of them; what was sealed for
    one purpose does not open for another."""
    return MultiFernet(_keys(purpose))


def sealed_anew(sealed: str, purpose: str) -> str:
    """Return the same under the newest key; unchanged where it is under that one already.

    Raises:
        InvalidToken: none of the site's keys opens it.
    """
    newest, *_ = _keys(purpose)
    try:
        newest.decrypt(sealed.encode())
        return sealed
    except InvalidToken:
        return box(purpose).rotate(sealed.encode()).decode()


def _keys(purpose: str) -> list[Fernet]:
    keys = (settings.SECRET_KEY, *map(str, settings.SECRET_KEY_FALLBACKS))
    digests = (hashlib.sha256(f"{purpose}/{key}".encode()).digest() for key in keys)
    return [Fernet(base64.urlsafe_b64encode(each)) for each in digests]


def fingerprint(key: str) -> str:
    """Return what tells a key from others and gives nothing of it away; empty for no key."""
    return hashlib.sha256(f"fingerprint/{key}".encode()).hexdigest()[:16] if key else ""
