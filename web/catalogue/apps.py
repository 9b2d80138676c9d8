"""The app's place in Django."""

from django.apps import AppConfig


class CatalogueConfig(AppConfig):
    name = "web.catalogue"
