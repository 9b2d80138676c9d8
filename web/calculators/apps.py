"""The app's place in Django."""

from django.apps import AppConfig


class CalculatorsConfig(AppConfig):
    name = "web.calculators"
