"""Takes a whole clinic out, as open files."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from web.accounts.models import Clinic
from web.exports.clinic import write_clinic


class Command(BaseCommand):
    """For whoever runs the site; the folder then holds every record."""

    help = "Writes everything of a clinic into an empty folder, each client as an archive."

    def add_arguments(self, parser: CommandParser) -> None:
        """Where to, and of which clinic."""
        parser.add_argument("folder", type=Path)
        parser.add_argument("--clinic", help="its name, where there are several")

    def handle(self, *args: Any, folder: Any, **options: Any) -> None:
        """Says each file; refuses where it is not plain which clinic is meant."""
        clinics = Clinic.objects.all()
        if options["clinic"]:
            clinics = clinics.filter(name=options["clinic"])
        if len(clinics) != 1:
            there = ", ".join(f"“{each}”" for each in Clinic.objects.all()) or "none"
            raise CommandError(f"Say which clinic by --clinic. There are: {there}.")
        (clinic,) = clinics
        made = []
        try:
            with timezone.override(clinic.zone):
                for each in write_clinic(clinic, folder):
                    self.stdout.write(str(each))
                    made.append(each)
        except FileExistsError as error:
            raise CommandError(f"{folder} is not empty. Nothing was written.") from error
        self.stdout.write(f"{len(made)} files. They hold health records: keep them accordingly.")
