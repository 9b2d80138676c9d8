"""The app's place in Django."""

from django.apps import AppConfig


class ClientsConfig(AppConfig):
    name = "web.clients"
