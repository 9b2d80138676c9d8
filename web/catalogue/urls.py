"""The catalogue."""

from django.urls import path

from . import views

app_name = "catalogue"
urlpatterns = [
    path("", views.catalogue, name="all"),
    path("own/", views.add_own, name="add_own"),
    path("<slug:code>/hide/", views.hide, name="hide"),
]
