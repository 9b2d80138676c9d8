"""Scheduled jobs."""

from django.apps import AppConfig


class ScheduledConfig(AppConfig):
    """Configuration of the app."""

    name = "web.scheduled"
