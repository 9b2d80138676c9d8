"""Prescribing."""

from django.urls import path

from . import views

app_name = "programmes"
urlpatterns = [
    path("<int:pk>/prescribe/", views.prescribe, name="prescribe"),
]
