"""Open files, whole clients, the clinic without names."""

from django.apps import AppConfig


class ExportsConfig(AppConfig):
    """Of open files, whole clients, the clinic without names."""

    name = "web.exports"
