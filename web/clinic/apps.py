"""The app's place in Django."""

from django.apps import AppConfig


class ClinicConfig(AppConfig):
    name = "web.clinic"
