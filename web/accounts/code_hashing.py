"""Passwords and PINs hashed with a secret of the site besides the salt, so that a copy of the
database alone does not allow guessing."""

from __future__ import annotations

import hmac
from typing import Any

from django.conf import settings
from django.contrib.auth.hashers import PBKDF2PasswordHasher


class PepperedHasher(PBKDF2PasswordHasher):
    """Django's own hasher, applied to a value that only this site can derive from a password.

    A hash without the secret is still accepted, and replaced when its owner signs in.
    """

    algorithm = "pbkdf2_sha256_peppered"

    def encode(self, password: str, salt: str, iterations: Any = None) -> str:
        """Encode the password and the secret with Django's hasher."""
        secret = str(getattr(settings, "PASSWORD_PEPPER", "")).encode()
        mixed = hmac.new(secret, str(password).encode(), "sha256").hexdigest()
        return super().encode(mixed, salt, iterations)
