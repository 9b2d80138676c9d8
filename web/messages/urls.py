"""Addresses that a client opens from an email."""

from django.urls import path

from . import views

app_name = "messages"
urlpatterns = [path("reminders/off/<str:token>/", views.reminders_off, name="reminders_off")]
