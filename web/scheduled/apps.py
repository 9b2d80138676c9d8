"""What runs on a clock."""

from django.apps import AppConfig


class ScheduledConfig(AppConfig):
    """Of what runs on a clock."""

    name = "web.scheduled"
