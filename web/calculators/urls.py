"""The calculators."""

from django.urls import path

from . import views

app_name = "calculators"
urlpatterns = [
    path("", views.calculators_page, name="all"),
    path("pattern.mid", views.pattern_midi, name="pattern_midi"),
    path("pattern.wav", views.pattern_wav, name="pattern_wav"),
]
