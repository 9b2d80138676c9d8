"""The list of clients, and a client's way in."""

from django.urls import path

from . import views

app_name = "clients"
urlpatterns = [
    path("", views.client_list, name="list"),
    path("<int:pk>/practice-link/", views.practice_link, name="practice_link"),
]
