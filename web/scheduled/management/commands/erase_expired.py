"""Run the nightly retention now."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from web.scheduled.retention import erase_expired, list_expired


class Command(BaseCommand):
    help = "Erases records and log entries whose retention period has ended."

    def add_arguments(self, parser: Any) -> None:
        """Add the options of the command."""
        parser.add_argument("--preview", action="store_true", help="only list what would be erased")

    def handle(self, *args: Any, **options: Any) -> None:
        """Erase what has expired, or list it."""
        for what, count in (list_expired() if options["preview"] else erase_expired()).items():
            self.stdout.write(f"{count} {what}")
