"""Apply the journal to a restored database; `restore` does this itself."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from web.keeping.checks import migrate_checked
from web.scheduled.restore_replay import finish_restore


class Command(BaseCommand):
    """Complete a database that was recovered with PostgreSQL's own tools."""

    help = (
        "Applies the journal to a restored database and asks devices to send their entries again."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        """Add the time of the backup and the folder of the journal."""
        parser.add_argument(
            "--restored-to", required=True, help="time of the restored data, ISO 8601"
        )
        parser.add_argument("--journal", type=Path, action="append", default=[])
        parser.add_argument("--migrate", action="store_true", help="migrate the database first")

    def handle(
        self, *args: Any, restored_to: Any, journal: Any, migrate: Any, **options: Any
    ) -> None:
        """Finish the restore, and print the result."""
        try:
            at = datetime.fromisoformat(restored_to)
        except ValueError as wrong:
            raise CommandError(
                f"“{restored_to}” is not a time. Example: 2026-11-30T14:00:00+00:00"
            ) from wrong
        if at.tzinfo is None:
            raise CommandError("The time needs a time zone. Example: 2026-11-30T14:00:00+00:00")
        if not journal:
            self.stderr.write(
                "No journal was given: links disabled and records erased since then  "
                "are active again."
            )
        if migrate:
            migrate_checked()
        for what, count in finish_restore(journal, restored_to=at).items():
            if count:
                self.stdout.write(f"{count} {what}")
