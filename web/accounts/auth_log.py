"""Log sign-ins, failed sign-ins and refused pages.

A person is logged by number, because a name that was typed wrongly is often a password.
"""

from __future__ import annotations

import logging
from typing import TYPE_CHECKING, Any

from allauth.mfa.signals import authentication_failed
from django.contrib.auth.signals import user_logged_in, user_logged_out, user_login_failed
from django.dispatch import receiver
from django.http import HttpRequest

from .address import address_of

if TYPE_CHECKING:
    from web.accounts.models import User

logger = logging.getLogger("still_reed.auth")


@receiver(user_logged_in)
def log_login(sender: type, request: HttpRequest, user: User, **_: Any) -> None:
    """Log a successful sign-in (password, code or passkey)."""
    logger.info("login_succeeded", extra={"user_id": user.pk, "ip": address_of(request)})


@receiver(user_logged_out)
def log_logout(sender: type, request: HttpRequest, user: User | None, **_: Any) -> None:
    """Log a sign-out, by the user or after the session timeout."""
    if user is not None:
        logger.info("logout", extra={"user_id": user.pk})


@receiver(user_login_failed)
def log_login_failure(
    sender: str, credentials: Any, request: HttpRequest | None = None, **_: Any
) -> None:
    """Log a wrong password or PIN. The user is not known."""
    logger.warning("login_failed", extra={"ip": address_of(request) if request else None})


@receiver(authentication_failed)
def log_mfa_failure(sender: type, request: HttpRequest, user: User, **_: Any) -> None:
    """Log a wrong code in the second step of a sign-in."""
    logger.warning("mfa_failed", extra={"user_id": user.pk, "ip": address_of(request)})


def log_permission_denied(request: HttpRequest) -> None:
    """Log a request for a page that this user may not open."""
    view = request.resolver_match.view_name if request.resolver_match else None
    logger.warning(
        "permission_denied",
        extra={"user_id": request.user.pk, "view": view, "method": request.method},
    )
