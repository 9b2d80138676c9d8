"""Restore a backup into a new database."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError, CommandParser

from web.keeping import journal
from web.scheduled.backups import Backup, NoBackup, missing_keys, restore, url_of


class Command(BaseCommand):
    """Restore a backup next to the database in use. The new database gets this version's tables,
    and the journal's later events are applied to it."""

    help = "Restores a backup into a new database. Then set DATABASE_URL to it."

    def add_arguments(self, parser: CommandParser) -> None:
        """Add the backup and the name of the new database."""
        parser.add_argument("dump", type=Path)
        parser.add_argument("--into", required=True, help="the new database's name")
        parser.add_argument(
            "--journal",
            type=Path,
            action="append",
            help="a folder of the journal; the machine's own and the copy beside the dump are used "
            "in any case",
        )

    def handle(self, *args: Any, dump: Any, into: Any, **options: Any) -> None:
        """Bring it back, and carry it on to now."""
        backup = Backup(dump)
        try:
            for name in missing_keys(backup):
                self.stderr.write(
                    f"{name} differs from the one of this backup: data encrypted with that key "
                    "cannot be decrypted. Set the old one and restore again."
                )
            restore(backup, into=into)
        except NoBackup as why:
            raise CommandError(str(why)) from why
        folders = [backup.journal, journal.folder(), *(options["journal"] or [])]
        journals = [f"--journal={each.resolve()}" for each in folders if each.is_dir()]
        moment = f"--restored-to={backup.made_at.isoformat()}"
        self._run_command(into, "finish_restore", "--migrate", moment, *journals)
        self.stdout.write(f"Restored into “{into}”. Set DATABASE_URL to it and start the site.")

    def _run_command(self, database: str, *words: Any) -> None:
        """Run one of our own commands on the new database, in a separate process."""
        runs = [sys.executable, "-m", "web.config.command", *words]
        environment = {**os.environ, "DATABASE_URL": url_of(database)}
        done = subprocess.run(  # noqa: S603
            runs, env=environment, cwd=settings.ROOT, capture_output=True, text=True
        )
        self.stdout.write(done.stdout, ending="")
        if done.returncode:
            raise CommandError(
                f"The backup is restored in “{database}”, but {words[0]} "
                f"failed:\n{done.stderr[-800:]}"
            )
