"""Create a clinic and its lead, and print a one-time link to choose a password."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError, CommandParser

from web.accounts.actions import begin_clinic, password_path
from web.accounts.models import Clinic

ASKED = {
    "clinic": "Name of the clinic: ",
    "lead": "Name of the clinic lead: ",
    "mail": "Email address of the lead: ",
    "time_zone": "Time zone of the clinic, for example Europe/Lisbon: ",
}


class Command(BaseCommand):
    """Creates a clinic and its lead, and prints a one-time link to choose a password."""

    help = "Begins a clinic. What no flag says is asked."

    def add_arguments(self, parser: CommandParser) -> None:
        """Add the arguments; all are flags, so that scripts can use them."""
        parser.add_argument("--clinic")
        parser.add_argument("--lead", help="first and last name")
        parser.add_argument("--mail")
        parser.add_argument("--time-zone")
        parser.add_argument("--another", action="store_true", help="add another clinic")

    def handle(self, *args: Any, **options: Any) -> None:
        """Refuse where a clinic is there already, unless another one is wanted."""
        there = Clinic.objects.first()
        if there and not options["another"]:
            raise CommandError(
                f"The clinic “{there}” exists. To add another clinic to this database, use "
                "--another"
            )
        answers = {name: options[name] or input(words).strip() for name, words in ASKED.items()}
        missing = [name.replace("_", "-") for name, value in answers.items() if not value]
        if missing:
            raise CommandError(f"Nothing was created. Missing: {', '.join(missing)}")
        try:
            clinic, lead = begin_clinic(
                name=answers["clinic"],
                time_zone=answers["time_zone"],
                lead_name=answers["lead"],
                mail=answers["mail"],
            )
        except ValidationError as error:
            raise CommandError(f"Nothing was created. {' '.join(error.messages)}") from error
        self.stdout.write(
            f"{clinic} was created. {lead.get_full_name()} signs in as “{lead.username}” and "
            "chooses"
            f" a password here (once, within three days):\n{settings.SITE_URL}{password_path(lead)}"
        )
