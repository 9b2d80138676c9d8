"""Carries restored records on to now; `restore` does it by itself."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from web.keeping.checks import migrate_checked
from web.scheduled.replaying import finish_restore


class Command(BaseCommand):
    """For records that were brought back by PostgreSQL's own means."""

    help = "Closes and erases anew what the journal says, and asks devices for what they sent."

    def add_arguments(self, parser: CommandParser) -> None:
        """From when the records are, and where the journal lies."""
        parser.add_argument(
            "--restored-to", required=True, help="the moment that the records are from, ISO 8601"
        )
        parser.add_argument("--journal", type=Path, action="append", default=[])
        parser.add_argument(
            "--migrate", action="store_true", help="give the records this version's tables first"
        )

    def handle(
        self, *args: Any, restored_to: Any, journal: Any, migrate: Any, **options: Any
    ) -> None:
        """Do it, and say what was done."""
        try:
            at = datetime.fromisoformat(restored_to)
        except ValueError as wrong:
            raise CommandError(
                f"“{restored_to}” is no moment: 2026-11-30T14:00:00+00:00"
            ) from wrong
        if at.tzinfo is None:
            raise CommandError("Say the time zone too: 2026-11-30T14:00:00+00:00")
        if not journal:
            self.stderr.write(
                "No journal was given: links that were closed and records that were erased since "
                "are as they were."
            )
        if migrate:
            migrate_checked()
        for what, count in finish_restore(journal, restored_to=at).items():
            if count:
                self.stdout.write(f"{count} {what}")
