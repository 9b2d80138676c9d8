"""The app's place in Django."""

from django.apps import AppConfig


class UiConfig(AppConfig):
    name = "web.ui"

    def ready(self):
        """What all of the site goes by."""
        from . import moments

        moments.always()
