"""The app's place in Django."""

from django.apps import AppConfig


class PracticeConfig(AppConfig):
    name = "web.practice"
