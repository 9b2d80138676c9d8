"""Open files, whole clients, the clinic without names."""

from django.apps import AppConfig


class ExportsConfig(AppConfig):
    """Configuration of the app."""

    name = "web.exports"
