"""Addresses for entries of devices and for practice logs."""

from django.urls import path

from .consumers import ReferenceConsumer, TakeConsumer
from .views import entries, logs

app_name = "intake"
urlpatterns = [
    path("entries/", entries.entries, name="entries"),
    path("entries/opened/", entries.opened_entry, name="opened_entry"),
    path("stop/", entries.stop, name="stop"),
    path("in-clinic/<int:pk>/entries/", entries.clinic_entries, name="clinic_entries"),
    path(
        "in-clinic/<int:pk>/entries/opened/",
        entries.clinic_opened_entry,
        name="clinic_opened_entry",
    ),
    path("logs/<int:pk>/", logs.paper, name="paper"),
    path("logs/<int:pk>/table/", logs.table, name="table"),
    path("logs/<int:pk>/recordings/", logs.recordings, name="recordings"),
]

websocket_urlpatterns = [
    path("practice/tasks/<int:pk>/take/", TakeConsumer.as_asgi()),
    path("practice/reference/take/", ReferenceConsumer.as_asgi()),
]
