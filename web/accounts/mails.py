"""What an account's holder is written to."""

from django.conf import settings
from django.core.mail import send_mail

from .actions import password_path

WORDS = """Somebody, most likely you, asked for a new password for the name {name}.

Choose one here, once, within three days:
{link}

If it was not you, do nothing: the password stays as it is.
"""


def mail_password_link(user) -> None:
    """The link by which a password is chosen."""
    link = settings.SITE_URL.rstrip("/") + password_path(user)
    words = WORDS.format(name=user.username, link=link)
    send_mail("A new password for Still Reed", words, settings.DEFAULT_FROM_EMAIL, [user.email])
