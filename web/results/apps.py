"""What was practised and what it came to."""

from django.apps import AppConfig


class ResultsConfig(AppConfig):
    """Of what was practised and what it came to."""

    name = "web.results"
