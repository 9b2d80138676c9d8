"""Mails out, and who may be written to."""

from django.apps import AppConfig


class MessagesConfig(AppConfig):
    """Configuration of the app."""

    name = "web.messages"
    label = "client_messages"
