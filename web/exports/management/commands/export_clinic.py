"""Export a whole clinic as open files."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from web.accounts.models import Clinic
from web.exports.clinic import write_clinic


class Command(BaseCommand):
    """Command for the site administrator. The folder then contains every record."""

    help = "Exports all data of a clinic to an empty folder, with one archive per client."

    def add_arguments(self, parser: CommandParser) -> None:
        """Add the folder, and the clinic if there are several."""
        parser.add_argument("folder", type=Path)
        parser.add_argument("--clinic", help="name of the clinic, if there are several")

    def handle(self, *args: Any, folder: Any, **options: Any) -> None:
        """Print each file; refuse if it is unclear which clinic is meant."""
        clinics = Clinic.objects.all()
        if options["clinic"]:
            clinics = clinics.filter(name=options["clinic"])
        if len(clinics) != 1:
            there = ", ".join(f"“{each}”" for each in Clinic.objects.all()) or "none"
            raise CommandError(f"Name the clinic with --clinic. Clinics: {there}.")
        (clinic,) = clinics
        made = []
        try:
            with timezone.override(clinic.zone):
                for each in write_clinic(clinic, folder):
                    self.stdout.write(str(each))
                    made.append(each)
        except FileExistsError as error:
            raise CommandError(f"{folder} is not empty. Nothing was written.") from error
        self.stdout.write(
            f"{len(made)} files. They contain health records. Protect them accordingly."
        )
