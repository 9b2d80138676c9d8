"""Email the site administrator that a unit has failed; systemd calls it."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.core.mail import send_mail
from django.core.management.base import BaseCommand

from web.scheduled.heartbeat import alert_address

WORDS = """{unit} at {site} has failed.

On the machine: journalctl -u {unit} -n 50. A worker that is silent means that nobody is mailed of a
stop; a backup that failed means that the last one is older than it should be.
"""


class Command(BaseCommand):
    """Email a failed unit; it uses no database, because that may be the cause."""

    help = "Emails ALERTS_TO that a unit has failed."
    requires_system_checks = []

    def add_arguments(self, parser: Any) -> None:
        """Add the unit's name."""
        parser.add_argument("unit")

    def handle(self, *args: Any, unit: Any, **options: Any) -> None:
        """Mail it."""
        words = WORDS.format(unit=unit, site=settings.SITE_URL)
        subject = f"Still Reed: {unit} has failed"
        send_mail(subject, words, settings.DEFAULT_FROM_EMAIL, [alert_address()])
