"""Brings a backup back, into a database that is not there yet."""

from pathlib import Path

from django.core.management.base import BaseCommand, CommandError

from web.scheduled.backups import Backup, NoBackup, restore


class Command(BaseCommand):
    help = "Brings a backup back into a new database; then DATABASE_URL is set to it."

    def add_arguments(self, parser):
        parser.add_argument("dump", type=Path)
        parser.add_argument("--into", required=True, help="the new database's name")

    def handle(self, *args, dump, into, **options):
        try:
            restore(Backup(dump), into=into)
        except NoBackup as why:
            raise CommandError(str(why)) from why
        self.stdout.write(f"“{into}” holds it now. Set DATABASE_URL to it, and start the site.")
