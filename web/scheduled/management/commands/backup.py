"""Writes a backup of everything, and proves that it can be brought back."""

from pathlib import Path

from django.core.management.base import BaseCommand, CommandError

from web.scheduled.backups import NoBackup, back_up, check


class Command(BaseCommand):
    help = "Writes a backup into a folder; with --check it is brought back beside and counted."

    def add_arguments(self, parser):
        parser.add_argument("folder", type=Path)
        parser.add_argument("--keep", type=int, default=0, help="only so many; 0 keeps all")
        parser.add_argument("--check", action="store_true")

    def handle(self, *args, folder, keep, **options):
        try:
            made = back_up(folder, keep=keep)
            self.stdout.write(f"Written: {made.dump}")
            if options["check"]:
                self.stdout.write(f"Brought back beside and counted: {check(made)} rows.")
        except NoBackup as why:
            raise CommandError(str(why)) from why
