"""Puts the secrets of second steps under the newest key."""

from django.core.management.base import BaseCommand

from web.accounts.second.actions import seal_anew


class Command(BaseCommand):
    """After a change of keys; the worker does it each night as well."""

    help = "Seals the secrets of second steps under the newest key."

    def handle(self, *args, **options):
        """Says how many are lost."""
        shut = seal_anew()
        said = f"{shut} are sealed by a key that is gone: their owners set up another."
        self.stdout.write(said if shut else "All are sealed under the newest key.")
