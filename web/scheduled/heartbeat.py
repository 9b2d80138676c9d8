"""A test email to the administrator, which proves that a stop alert would be delivered."""

import logging
from email.utils import parseaddr

from django.conf import settings
from django.core.mail import send_mail
from django.utils import timezone

from .models import JobRun

logger = logging.getLogger(__name__)

SUBJECT = "Still Reed: email delivery works"
WORDS = """{site} sent this test email at {at:%Y-%m-%d %H:%M} UTC.
It is sent once a day and on request.

You do not need to do anything. If this email stops arriving, stop alerts are not delivered. Check
{site}/health/ready why.
"""


def alert_address() -> str:
    """Return the recipient of the site's own emails: `ALERTS_TO`, or the sender's address."""
    return settings.ALERTS_TO or parseaddr(settings.DEFAULT_FROM_EMAIL)[1]


def mail_ourselves(to: str = "") -> JobRun:
    """Send a test email now, and record the result.

    Args:
        to: the address; the administrator's if None.
    """
    to = to or alert_address()
    words = WORDS.format(site=settings.SITE_URL.rstrip("/"), at=timezone.now())
    try:
        send_mail(SUBJECT, words, settings.DEFAULT_FROM_EMAIL, [to])
    except Exception as wrong:  # Any error of the mail server or the connection.
        logger.exception("heartbeat_email_failed")
        error_text = f"{type(wrong).__name__}: {wrong}"[:500]
        return JobRun.objects.create(job=JobRun.Job.MAIL, succeeded=False, message=error_text)
    return JobRun.objects.create(job=JobRun.Job.MAIL, succeeded=True, message=f"to {to}"[:500])
