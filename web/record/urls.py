"""The record as it is read."""

from django.urls import path

from .views import picture, summary

app_name = "record"
urlpatterns = [
    path("clients/<int:pk>/record/", summary.summary, name="summary"),
    # Clients see the pictures of their prescribed programme.
    path("catalogue/pictures/<int:pk>.jpg", picture.picture, name="picture"),
]
