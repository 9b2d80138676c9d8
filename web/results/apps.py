"""Results of practice."""

from django.apps import AppConfig


class ResultsConfig(AppConfig):
    """Configuration of the app."""

    name = "web.results"
