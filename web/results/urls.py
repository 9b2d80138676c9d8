"""Addresses of results."""

from django.urls import path

from .views import client, compare, practice_messages, trials, voice_range_profile

app_name = "results"
urlpatterns = [
    path("clients/<int:pk>/", client.client, name="client"),
    path("clients/<int:pk>/trials/<uuid:trial>/count/", trials.count_trial, name="count_trial"),
    path(
        "clients/<int:pk>/trials/<uuid:trial>/leave-out/",
        trials.leave_out_trial,
        name="leave_out_trial",
    ),
    path("clients/<int:pk>/message/", practice_messages.write, name="write_message"),
    path("clients/<int:pk>/compare/", compare.compare, name="compare"),
    path(
        "clients/<int:pk>/voice-range-profile/",
        voice_range_profile.voice_range_profile,
        name="voice_range_profile",
    ),
]
