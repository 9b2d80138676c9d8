"""Practising: pages, sounds, and the stream a hold comes in by."""

from django.urls import path

from . import views
from .consumers import TakeConsumer

app_name = "practice"
urlpatterns = [
    path("", views.today, name="today"),
    path("with/<str:code>/", views.enter, name="enter"),
    path("tasks/<int:pk>/tone.wav", views.tone, name="tone"),
    path("tasks/<int:pk>/simulated-voice.wav", views.simulated_voice, name="simulated_voice"),
    path("tasks/<int:pk>/recording/", views.recording, name="recording"),
    path("tasks/<int:pk>/by-hand/", views.by_hand, name="by_hand"),
]

websocket_urlpatterns = [
    path("practice/tasks/<int:pk>/take/", TakeConsumer.as_asgi()),
]
