"""The app's place in Django."""

from django.apps import AppConfig


class SoundConfig(AppConfig):
    name = "web.sound"
