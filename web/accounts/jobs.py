"""Queued jobs of accounts: email a password link or a notice of a change."""

from procrastinate import RetryStrategy
from procrastinate.contrib.django import app


@app.task(name="mail_change", retry=RetryStrategy(max_attempts=8, exponential_wait=3))
def mail_change(*, user: int, what: str) -> None:
    """Email a user that their sign-in has changed."""
    from .mails import mail_change
    from .models import User

    found = User.objects.filter(pk=user).exclude(email="").first()
    if found is not None:
        mail_change(found, what)


@app.task(name="mail_password_link", retry=RetryStrategy(max_attempts=8, exponential_wait=3))
def mail_password_link(*, user: int) -> None:
    """Email the link to the account's owner, unless the account is deactivated."""
    from .mails import mail_password_link
    from .models import User

    found = User.objects.filter(pk=user, is_active=True, role__in=User.AT_WORK).first()
    if found is not None and found.email:
        mail_password_link(found)
