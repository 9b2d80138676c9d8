"""The app's place in Django."""

from django.apps import AppConfig


class BaselineConfig(AppConfig):
    name = "web.baseline"
