"""Generates docs/cautions.md: which caution stops which task of the catalogue."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand

from reedcore.catalogue.tasks import written_tasks
from web.programmes.cautions import table

PATH = Path(__file__).parents[4] / "docs" / "cautions.md"


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        """Write the table of tasks and cautions."""
        PATH.write_text(table(written_tasks()))
        self.stdout.write(f"Written: {PATH}")
