"""The app's place in Django."""

from django.apps import AppConfig


class ReviewConfig(AppConfig):
    name = "web.review"
