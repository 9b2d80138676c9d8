"""What an account's holder is written to."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.conf import settings
from django.core.mail import send_mail
from django.urls import reverse

from .actions import password_path

if TYPE_CHECKING:
    from web.accounts.models import User

WORDS = """Somebody, most likely you, asked for a new password for the name {name}.

Choose one here, once, within three days:
{link}

If it was not you, do nothing: the password stays as it is.
"""


#: What may change in how somebody signs in, and how they are told.
CHANGES = {
    "password": "The password was changed.",
    "added": "A second step was added: a code app or a passkey.",
    "removed": "A second step was taken away.",
    "reset": "New spare codes were made; the ones before are good for nothing.",
    "forgotten": "The second step was taken away, because it was said to be lost.",
}
TOLD = """How you sign in as {name} has changed. {what}

Was it you? Then there is nothing to do.
If it was not, tell the lead of your clinic at once, and choose another password:
{link}
"""


def mail_change(user: User, what: str) -> None:
    """That something has changed by which this person signs in."""
    link = f"{settings.SITE_URL.rstrip('/')}{reverse('accounts:forgotten')}"
    words = TOLD.format(name=user.username, what=CHANGES[what], link=link)
    send_mail("How you sign in has changed", words, settings.DEFAULT_FROM_EMAIL, [user.email])


def mail_password_link(user: User) -> None:
    """The link by which a password is chosen."""
    link = settings.SITE_URL.rstrip("/") + password_path(user)
    words = WORDS.format(name=user.username, link=link)
    send_mail("A new password for Still Reed", words, settings.DEFAULT_FROM_EMAIL, [user.email])
