"""Re-encrypt stored secrets with the newest key."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from web.accounts.second.actions import reseal_keys
from web.practice.sealing import open_keys, seal_keys


class Command(BaseCommand):
    """After a change of keys; the worker does it each night as well."""

    help = "Re-encrypts two-step secrets and device keys with the newest key."

    def add_arguments(self, parser: Any) -> None:
        """Add the option for versions before 0.2."""
        parser.add_argument(
            "--for-older",
            action="store_true",
            help="decrypt device keys, before a roll-back to a version without  sealed ones",
        )

    def handle(self, *args: Any, for_older: Any, **options: Any) -> None:
        """Print how many keys are lost."""
        if for_older:
            open_keys()
            self.stdout.write("The keys of clients' devices are decrypted.")
            return
        steps, keys = reseal_keys(), seal_keys()
        if steps:
            self.stdout.write(
                f"{steps} two-step methods cannot be decrypted, because their key is missing. "
                "Set them up again."
            )
        if keys:
            self.stdout.write(
                f"{keys} device keys cannot be decrypted, because their key is missing. They "
                "are created again."
            )
        if not steps and not keys:
            self.stdout.write("All secrets are encrypted with the newest key.")
