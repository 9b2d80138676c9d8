"""Write a backup and optionally verify it by a restore."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from web.scheduled.backups import NoBackup, back_up, check, restore_instructions
from web.scheduled.models import JobRun


class Command(BaseCommand):
    """The result is recorded for readiness and metrics."""

    help = (
        "Writes a backup to a folder. With --check it is restored into a scratch database "
        "and counted."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        """Return where, how many, and whether it is proven."""
        parser.add_argument("folder", type=Path)
        parser.add_argument("--keep", type=int, default=0, help="only so many; 0 keeps all")
        parser.add_argument("--check", action="store_true")

    def handle(self, *args: Any, folder: Any, keep: Any, **options: Any) -> None:
        """Write the backup, verify it, and print what to store with it."""
        try:
            made = back_up(folder, keep=keep)
            self.stdout.write(f"Written: {made.dump}")
            if options["check"]:
                self.stdout.write(f"Verified by a restore: {check(made)} rows.")
        except (NoBackup, OSError) as why:
            JobRun.objects.create(job=JobRun.Job.BACKUP, succeeded=False, message=str(why)[:500])
            raise CommandError(str(why)) from why
        JobRun.objects.create(job=JobRun.Job.BACKUP, succeeded=True, message=made.dump.name)
        self.stdout.write("To restore it on another machine, keep:")
        for line in restore_instructions(made):
            self.stdout.write(f"  {line}")
