"""Lines of the log on who came in, who did not, and what was refused.

A person stands there by their number, for a name that was typed wrongly is often a password.
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

logger = logging.getLogger("still_reed.door")


@receiver(user_logged_in)
def came_in(sender: type, request: HttpRequest, user: User, **_: Any) -> None:
    """By whatever step was the last."""
    logger.info("person %s came in, from %s", user.pk, address_of(request))


@receiver(user_logged_out)
def went(sender: type, request: HttpRequest, user: User | None, **_: Any) -> None:
    """By themselves, or because nothing was done for long."""
    if user is not None:
        logger.info("person %s went", user.pk)


@receiver(user_login_failed)
def wrong_password(sender: str, credentials: Any, request: HttpRequest = None, **_: Any) -> None:
    """A password or a PIN that is not theirs; whose, nobody knows."""
    logger.warning("a wrong password or PIN, from %s", address_of(request) if request else "inside")


@receiver(authentication_failed)
def wrong_code(sender: type, request: HttpRequest, user: User, **_: Any) -> None:
    """A second step that was not right."""
    logger.warning("a wrong code for person %s, from %s", user.pk, address_of(request))


def refused(request: HttpRequest) -> None:
    """A page that is not theirs to open."""
    view = request.resolver_match.view_name if request.resolver_match else "?"
    logger.warning("person %s was refused %s (%s)", request.user.pk, view, request.method)
