"""The app's place in Django."""

from django.apps import AppConfig


class ProgrammesConfig(AppConfig):
    name = "web.programmes"
