"""Looks at the settings, as Django does; and on demand at the mail."""

from __future__ import annotations

from typing import Any

from django.core.management.base import CommandError, CommandParser
from django.core.management.commands.check import Command as Check

from web.scheduled.heartbeat import alert_address, mail_ourselves


class Command(Check):
    """`--mail` sends a test email: its arrival shows that stop alerts are delivered."""

    def add_arguments(self, parser: CommandParser) -> None:
        """Add Django's own arguments, and the address of a test email."""
        super().add_arguments(parser)
        parser.add_argument(
            "--mail",
            nargs="?",
            const="",
            metavar="ADDRESS",
            help="send a test email to this address, or to ALERTS_TO",
        )

    def handle(self, *app_labels: Any, mail: Any = None, **options: Any) -> None:
        """Look, then send."""
        super().handle(*app_labels, **options)
        if mail is None:
            return
        sent = mail_ourselves(mail)
        if not sent.succeeded:
            raise CommandError(
                f"The test email was not sent: {sent.message}. Check EMAIL_URL and MAIL_FROM."
            )
        self.stdout.write(
            f"A test email was sent to {mail or alert_address()}. Check that it arrives."
        )
