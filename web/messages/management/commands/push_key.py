"""Make the key for reminders on devices."""

from typing import Any

from django.core.management.base import BaseCommand

from web.ui.push_key import new_private_key


class Command(BaseCommand):
    """Print a new key as a line of the settings file."""

    help = "Make a key for reminders on clients' devices: a line for the settings file."

    def handle(self, *args: Any, **options: Any) -> None:
        """Print the line. Devices that subscribed under another key must subscribe again."""
        self.stdout.write(f"WEB_PUSH_KEY={new_private_key()}")
