"""Outgoing messages and consent to them."""

from django.apps import AppConfig


class MessagesConfig(AppConfig):
    """Configuration of the app."""

    name = "web.messages"
    label = "client_messages"
