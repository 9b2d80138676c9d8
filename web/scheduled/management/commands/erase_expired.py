"""Does now what the worker does each night: erases what is due, and ends what was kept its time."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from web.scheduled.retention import erase_expired, list_expired


class Command(BaseCommand):
    help = "Erases the records whose term is over and ends what has been kept long enough."

    def add_arguments(self, parser: Any) -> None:
        parser.add_argument("--preview", action="store_true", help="only says what it would be")

    def handle(self, *args: Any, **options: Any) -> None:
        for what, count in (list_expired() if options["preview"] else erase_expired()).items():
            self.stdout.write(f"{count} {what}")
