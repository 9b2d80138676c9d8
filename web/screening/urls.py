"""The screening questions, stops and referral."""

from django.urls import path

from . import views

app_name = "screening"
urlpatterns = [
    path("<int:pk>/screen/", views.screen, name="screen"),
    path("<int:pk>/screen/safe/", views.declare_safe, name="declare_safe"),
    path("<int:pk>/stops/<uuid:key>/clear/", views.clear_stop, name="clear_stop"),
    path("<int:pk>/screen/refer/", views.refer, name="refer"),
]
