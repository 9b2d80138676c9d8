"""Where the tables of decisions, messages, notes and digests came from."""

from django.apps import AppConfig


class ReviewConfig(AppConfig):
    """Keeps the steps by which a database of a version before is brought up; nothing else."""

    name = "web.review"
