"""The app's place in Django."""

from django.apps import AppConfig


class KeepingConfig(AppConfig):
    """What outlives a restore."""

    name = "web.keeping"
