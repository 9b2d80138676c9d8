"""Emails to the owner of an account."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.conf import settings
from django.core.mail import send_mail
from django.urls import reverse
from django.utils.translation import gettext, gettext_lazy

from web.ui.marked import Words, gettext_noop

from .actions import password_path

if TYPE_CHECKING:
    from web.accounts.models import User

WORDS = gettext_lazy("""Someone, probably you, asked to reset the password of {name}.

Choose a new password with this link. It works once, for three days:
{link}

If it was not you, ignore this email. The password stays the same.
""")


#: Sign-in changes that a user is notified about by email, with their texts.
CHANGES = Words(
    {
        "password": gettext_noop("The password was changed."),
        "added": gettext_noop("An authenticator app or a passkey was added."),
        "removed": gettext_noop("A two-step verification method was removed."),
        "reset": gettext_noop("New recovery codes were created. The old codes no longer work."),
        "forgotten": gettext_noop("Two-step verification was reset because it was reported lost."),
    }
)
TOLD = gettext_lazy("""The sign-in settings of {name} have changed. {what}

If it was you, you do not need to do anything.
If it was not you, contact your clinic lead at once and choose a new password:
{link}
""")


def mail_change(user: User, what: str) -> None:
    """Email a user that their sign-in has changed."""
    link = f"{settings.SITE_URL.rstrip('/')}{reverse('accounts:forgotten')}"
    words = TOLD.format(name=user.username, what=CHANGES[what], link=link)
    send_mail(
        gettext("Your sign-in settings have changed"),
        words,
        settings.DEFAULT_FROM_EMAIL,
        [user.email],
    )


def mail_password_link(user: User) -> None:
    """Email the link for choosing a password."""
    link = settings.SITE_URL.rstrip("/") + password_path(user)
    words = WORDS.format(name=user.username, link=link)
    send_mail(
        gettext("Reset your Still Reed password"), words, settings.DEFAULT_FROM_EMAIL, [user.email]
    )
