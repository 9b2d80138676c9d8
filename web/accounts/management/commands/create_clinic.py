"""Begins a clinic: its first lines in the database, and a link by which its lead comes in."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser

from web.accounts.actions import begin_clinic, password_path
from web.accounts.models import Clinic

ASKED = {
    "clinic": "The clinic’s name: ",
    "lead": "The name of whoever leads it: ",
    "mail": "Their mail address: ",
    "time_zone": "The clinic’s time zone, such as Europe/Lisbon: ",
}


class Command(BaseCommand):
    """Makes a clinic and its lead, and prints a one-time link to choose a password."""

    help = "Begins a clinic. What no flag says is asked."

    def add_arguments(self, parser: CommandParser) -> None:
        """Each a flag, for a script."""
        parser.add_argument("--clinic")
        parser.add_argument("--lead", help="first and last name")
        parser.add_argument("--mail")
        parser.add_argument("--time-zone")
        parser.add_argument("--another", action="store_true", help="beside a clinic that is there")

    def handle(self, *args: Any, **options: Any) -> None:
        """Refuses where a clinic is there already, unless another one is wanted."""
        there = Clinic.objects.first()
        if there and not options["another"]:
            raise CommandError(
                f"“{there}” is there already. For another clinic in the same database: --another"
            )
        said = {name: options[name] or input(words).strip() for name, words in ASKED.items()}
        missing = [name.replace("_", "-") for name, value in said.items() if not value]
        if missing:
            raise CommandError(f"Nothing was made. Wanted: {', '.join(missing)}")
        try:
            clinic, lead = begin_clinic(
                name=said["clinic"],
                time_zone=said["time_zone"],
                lead_name=said["lead"],
                mail=said["mail"],
            )
        except ValidationError as error:
            raise CommandError(f"Nothing was made. {' '.join(error.messages)}") from error
        self.stdout.write(
            f"{clinic} is there. {lead.get_full_name()} signs in as “{lead.username}”, and chooses"
            f" a password here (once, within three days):\n{settings.SITE_URL}{password_path(lead)}"
        )
