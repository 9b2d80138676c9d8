"""Looking back."""

from django.urls import path

from . import views

app_name = "review"
urlpatterns = [
    path("<int:pk>/", views.client, name="client"),
    path("<int:pk>/decide/", views.decide, name="decide"),
    path("<int:pk>/decisions/<int:decision>/undo/", views.undo, name="undo"),
    path("<int:pk>/tries.csv", views.tries_csv, name="tries_csv"),
]
