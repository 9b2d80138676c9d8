"""``manage.py load_demo``: the made-up clinic, once."""

from datetime import date
from zoneinfo import ZoneInfo

from django.core.management.base import BaseCommand
from django.utils import timezone

from web.demo.loader import load_demo
from web.demo.people import CLIENT_PIN, CLINIC, CLINICIAN_PASSWORD, CLINICIANS, PEOPLE


class Command(BaseCommand):
    help = "Loads the demo clinic unless it is there, and says how to sign in."

    def add_arguments(self, parser):
        parser.add_argument("--today", type=date.fromisoformat, help="the day the stories end on")
        parser.add_argument("--site", default="http://127.0.0.1:8000")

    def handle(self, *, today, site, **options):
        today = today or timezone.localdate(timezone=ZoneInfo(CLINIC["time_zone"]))
        if not load_demo(today, say=self.stdout.write):
            self.stdout.write("The demo clinic is there already.")
        self.stdout.write(
            f"\n  Clinician  {site}/\n"
            f"             name {CLINICIANS[0][0]}, password {CLINICIAN_PASSWORD}\n"
            f"  Client     {site}/practice/with/{PEOPLE[0].code}/\n"
            f"             PIN {CLIENT_PIN}  ({PEOPLE[0].name})\n"
        )
