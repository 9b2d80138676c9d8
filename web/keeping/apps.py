"""The app's place in Django."""

from __future__ import annotations

from django.apps import AppConfig


class KeepingConfig(AppConfig):
    """Configuration of the app."""

    name = "web.keeping"

    def ready(self) -> None:
        """Register the check of the database's version."""
        from . import checks  # noqa: F401
