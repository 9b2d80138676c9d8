"""The site's keys for encrypted values in the database and in the journal."""

import base64
import hashlib

from cryptography.fernet import Fernet, InvalidToken, MultiFernet
from django.conf import settings


def box(purpose: str) -> MultiFernet:
    """Return an encrypter with the site's newest key that decrypts with any of them; values for one
    purpose cannot be decrypted for another."""
    return MultiFernet(_keys(purpose))


def reencrypt(sealed: str, purpose: str) -> str:
    """Return the value encrypted with the newest key; unchanged if it already is.

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
    """Return an identifier of a key that does not reveal it; empty for no key."""
    return hashlib.sha256(f"fingerprint/{key}".encode()).hexdigest()[:16] if key else ""
