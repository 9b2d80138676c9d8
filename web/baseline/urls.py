"""Baseline sheets and targets."""

from django.urls import path

from .consumers import BaselineTake
from .views import sheet, targets

app_name = "baseline"
urlpatterns = [
    path("<int:pk>/baselines/", sheet.baselines, name="all"),
    path("<int:pk>/targets/", targets.targets, name="targets"),
    path("<int:pk>/targets/decide/", targets.decide, name="decide_target"),
    path("baselines/<int:pk>/", sheet.sheet, name="sheet"),
    path("baselines/<int:pk>/close/", sheet.close, name="close"),
    path("baselines/<int:pk>/calibrate/", sheet.calibrate, name="calibrate"),
    path("baselines/<int:pk>/spirometer/", sheet.spirometer, name="spirometer"),
    path("baselines/<int:pk>/<slug:code>/typed/", sheet.enter_figure, name="typed"),
    path("baselines/<int:pk>/<slug:code>/entries/", sheet.entries, name="entries"),
    path("baselines/<int:pk>/<slug:code>/recording/", sheet.recording, name="recording"),
    path(
        "baselines/<int:pk>/<slug:code>/simulated.wav",
        sheet.simulate_trial,
        name="simulated",
    ),
    path("baseline-trials/<uuid:key>/<slug:what>/", sheet.trial, name="trial"),
]

websocket_urlpatterns = [
    path("clients/baselines/<int:pk>/<slug:step>/take/", BaselineTake.as_asgi()),
]
