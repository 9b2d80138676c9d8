"""Puts what the site's keys seal under the newest of them."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from web.accounts.second.actions import reseal_keys
from web.practice.sealing import open_keys, seal_keys


class Command(BaseCommand):
    """After a change of keys; the worker does it each night as well."""

    help = "Seals second steps and the keys of clients' devices under the newest key."

    def add_arguments(self, parser: Any) -> None:
        """What a version before 0.2 needs."""
        parser.add_argument(
            "--for-older",
            action="store_true",
            help="makes device keys readable, before you go back to a version that knows no "
            "sealed ones",
        )

    def handle(self, *args: Any, for_older: Any, **options: Any) -> None:
        """Says how many are lost."""
        if for_older:
            open_keys()
            self.stdout.write("The keys of clients' devices are readable again.")
            return
        steps, keys = reseal_keys(), seal_keys()
        if steps:
            self.stdout.write(
                f"{steps} second steps are sealed by a key that is gone: set up others."
            )
        if keys:
            self.stdout.write(
                f"{keys} device keys are sealed by a key that is gone: each is made anew."
            )
        if not steps and not keys:
            self.stdout.write("All are sealed under the newest key.")
