"""Addresses of reminders: a link from an email, and a client's own device."""

from django.urls import path

from . import views

app_name = "messages"
urlpatterns = [
    path("reminders/off/<str:token>/", views.reminders_off, name="reminders_off"),
    path("reminders/device/", views.device, name="device"),
]
