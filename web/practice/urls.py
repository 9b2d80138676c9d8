"""Practising: the pages and their sounds."""

from django.urls import path

from .views import enter, manifest, my_practice, player, tablet

app_name = "practice"
urlpatterns = [
    path("", player.today, name="today"),
    path("my-practice/", my_practice.my_practice, name="my_practice"),
    path("progress/", my_practice.progress, name="progress"),
    path("code/", enter.code, name="code"),
    path("with/<str:code>/", enter.enter, name="enter"),
    path("tablet/", tablet.tablet, name="tablet"),
    path("tablet/<int:pk>/", tablet.tablet_enter, name="tablet_enter"),
    path("tablets/", tablet.tablets, name="tablets"),
    path("tablets/<int:pk>/", tablet.change_tablet, name="change_tablet"),
    path("pin/", enter.pin, name="pin"),
    path("door/", enter.door, name="door"),
    path("manifest.webmanifest", manifest.manifest, name="manifest"),
    path("worker.js", player.worker, name="worker"),
    path("in-clinic/<int:pk>/", player.clinic_player, name="in_clinic"),
    path("tasks/<int:pk>/simulated-voice.wav", player.simulated_voice, name="simulated_voice"),
    path("reference/simulated-voice.wav", player.comfortable_voice, name="comfortable_voice"),
]
