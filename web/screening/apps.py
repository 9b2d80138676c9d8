"""The app's place in Django."""

from django.apps import AppConfig


class ScreeningConfig(AppConfig):
    name = "web.screening"
