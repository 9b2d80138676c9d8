"""Takes a second step away from somebody who has lost it and leads the clinic themselves."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from web.accounts.models import User
from web.accounts.second.actions import reset_two_step


class Command(BaseCommand):
    """For whoever runs the site; colleagues are helped by their lead."""

    help = "Takes away the second step of the account of this name, and signs it out everywhere."

    def add_arguments(self, parser: CommandParser) -> None:
        """Whose."""
        parser.add_argument("name", help="the name that they sign in by")

    def handle(self, *args: Any, **options: Any) -> None:
        """Refuses a name that nobody has."""
        user = User.objects.filter(username=options["name"], role__in=User.AT_WORK).first()
        if user is None:
            raise CommandError(f"Nobody signs in as “{options['name']}”.")
        count = reset_two_step(user)
        self.stdout.write(f"{count} taken away. {user.username} signs in by password alone.")
