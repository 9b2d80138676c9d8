"""The app's place in Django."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "web.accounts"
