"""Notes and reports."""

from django.apps import AppConfig


class NotesConfig(AppConfig):
    """Of notes and reports."""

    name = "web.notes"
