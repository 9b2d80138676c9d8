"""``manage.py load_demo``: the made-up clinic, once."""

from __future__ import annotations

from datetime import date
from typing import Any
from zoneinfo import ZoneInfo

from django.core.management.base import BaseCommand, CommandParser
from django.utils import timezone

from web.accounts.models import Clinic
from web.demo.people import CLIENT_PIN, CLINIC, CLINICIAN_PASSWORD, CLINICIANS, PEOPLE
from web.keeping.checks import migrate_checked


class Command(BaseCommand):
    help = "Loads the demo clinic, unless it exists, and prints how to sign in."

    # The system checks load every view and the measuring code, which takes seconds.
    requires_system_checks = ()

    def add_arguments(self, parser: CommandParser) -> None:
        """Add the options of the command."""
        parser.add_argument("--migrate", action="store_true", help="migrate the database first")
        parser.add_argument("--today", type=date.fromisoformat, help="last day of the demo data")
        parser.add_argument("--site", default="http://127.0.0.1:8000")

    def handle(self, *, today: Any, site: Any, migrate: Any, **options: Any) -> None:
        """Load the demo clinic, once."""
        if migrate:
            migrate_checked()
        today = today or timezone.localdate(timezone=ZoneInfo(CLINIC["time_zone"]))
        if Clinic.objects.filter(name=CLINIC["name"]).exists():
            self.stdout.write("The demo clinic exists.")
        else:
            from web.demo.loader import load_demo  # Imports the measuring code, which takes time.

            load_demo(today, say=self.stdout.write)
        self.stdout.write(
            f"\n  Clinician  {site}/\n"
            f"             name {CLINICIANS[0][0]}, password {CLINICIAN_PASSWORD}\n"
            f"  Client     {site}/practice/with/{PEOPLE[0].code}/\n"
            f"             PIN {CLIENT_PIN}  ({PEOPLE[0].name})\n"
        )
