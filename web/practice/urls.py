"""Practising: pages, sounds, and the stream a hold comes in by."""

from django.urls import path

from .consumers import ReferenceConsumer, TakeConsumer
from .views import enter, incoming, logs, player, tablet

app_name = "practice"
urlpatterns = [
    path("", player.today, name="today"),
    path("code/", enter.code, name="code"),
    path("with/<str:code>/", enter.enter, name="enter"),
    path("tablet/", tablet.tablet, name="tablet"),
    path("tablet/<int:pk>/", tablet.tablet_enter, name="tablet_enter"),
    path("tablets/", tablet.tablets, name="tablets"),
    path("tablets/<int:pk>/", tablet.change_tablet, name="change_tablet"),
    path("pin/", enter.pin, name="pin"),
    path("door/", enter.door, name="door"),
    path("worker.js", player.worker, name="worker"),
    path("entries/", incoming.entries, name="entries"),
    path("entries/opened/", incoming.opened_entry, name="opened_entry"),
    path("stop/", incoming.stop, name="stop"),
    path("in-clinic/<int:pk>/", player.in_clinic, name="in_clinic"),
    path("in-clinic/<int:pk>/entries/", incoming.clinic_entries, name="clinic_entries"),
    path(
        "in-clinic/<int:pk>/entries/opened/",
        incoming.clinic_opened_entry,
        name="clinic_opened_entry",
    ),
    path("tasks/<int:pk>/simulated-voice.wav", player.simulated_voice, name="simulated_voice"),
    path("reference/simulated-voice.wav", player.comfortable_voice, name="comfortable_voice"),
    path("logs/<int:pk>/", logs.paper, name="paper"),
    path("logs/<int:pk>/table/", logs.table, name="table"),
    path("logs/<int:pk>/recordings/", logs.recordings, name="recordings"),
]

websocket_urlpatterns = [
    path("practice/tasks/<int:pk>/take/", TakeConsumer.as_asgi()),
    path("practice/reference/take/", ReferenceConsumer.as_asgi()),
]
