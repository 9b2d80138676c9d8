"""The app's place in Django."""

from django.apps import AppConfig


class SharedConfig(AppConfig):
    name = "web.shared"
