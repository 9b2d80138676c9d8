"""The app's place in Django."""

from django.apps import AppConfig


class RecordConfig(AppConfig):
    name = "web.record"
