"""Proposals, decisions and the status of clients."""

from django.apps import AppConfig


class DecisionsConfig(AppConfig):
    """Configuration of the app."""

    name = "web.decisions"
