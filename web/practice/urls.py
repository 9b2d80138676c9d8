"""Practising: pages, sounds, and the stream a hold comes in by."""

from django.urls import path

from .consumers import ReferenceConsumer, TakeConsumer
from .views import enter, logs, player

app_name = "practice"
urlpatterns = [
    path("", player.today, name="today"),
    path("code/", enter.code, name="code"),
    path("with/<str:code>/", enter.enter, name="enter"),
    path("worker.js", player.worker, name="worker"),
    path("entries/", player.entries, name="entries"),
    path("in-clinic/<int:pk>/", player.in_clinic, name="in_clinic"),
    path("in-clinic/<int:pk>/entries/", player.clinic_entries, name="clinic_entries"),
    path("tasks/<int:pk>/tone.wav", player.tone, name="tone"),
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
