"""What is proposed, decided, and where clients stand."""

from django.apps import AppConfig


class DecisionsConfig(AppConfig):
    """Of what is proposed, decided, and where clients stand."""

    name = "web.decisions"
