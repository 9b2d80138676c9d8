"""Notes and reports."""

from django.apps import AppConfig


class NotesConfig(AppConfig):
    """Configuration of the app."""

    name = "web.notes"
