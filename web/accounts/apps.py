"""The app's place in Django."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "web.accounts"

    def ready(self):
        """Brings the checks of the settings along."""
        from . import checks  # noqa: F401
