"""The app's place in Django."""

from django.apps import AppConfig


class UiConfig(AppConfig):
    name = "web.ui"
