"""The app's place in Django."""

from __future__ import annotations

from django.apps import AppConfig


class UiConfig(AppConfig):
    name = "web.ui"

    def ready(self) -> None:
        """Apply the settings that the whole site depends on."""
        from reedcore.translation import translate_with

        from . import date_times
        from .marked import SiteTranslations

        date_times.register_date_loaders()
        translate_with(SiteTranslations())
