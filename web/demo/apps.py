"""The app's place in Django."""

from django.apps import AppConfig


class DemoConfig(AppConfig):
    name = "web.demo"
