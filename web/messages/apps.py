"""Mails out, and who may be written to."""

from django.apps import AppConfig


class MessagesConfig(AppConfig):
    """Of mails out, and who may be written to."""

    name = "web.messages"
    label = "client_messages"
