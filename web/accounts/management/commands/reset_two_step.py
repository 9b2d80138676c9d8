"""Reset two-step verification of a clinic lead who has lost it."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from web.accounts.models import User
from web.accounts.second.actions import reset_two_step


class Command(BaseCommand):
    """Command for the site administrator; clinic leads use the page of accounts."""

    help = "Resets two-step verification of an account and signs it out everywhere."

    def add_arguments(self, parser: CommandParser) -> None:
        """Add the username."""
        parser.add_argument("name", help="user name")

    def handle(self, *args: Any, **options: Any) -> None:
        """Refuse an unknown user name."""
        user = User.objects.filter(username=options["name"], role__in=User.AT_WORK).first()
        if user is None:
            raise CommandError(f"Unknown user name “{options['name']}”.")
        count = reset_two_step(user)
        self.stdout.write(
            f"{count} methods removed. {user.username} now signs in with the password only."
        )
