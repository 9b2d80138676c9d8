"""The app's place in Django."""

from django.apps import AppConfig


class IntakeConfig(AppConfig):
    name = "web.intake"
