"""Coming in and going out."""

from django.urls import path

from . import unsaved, views

app_name = "accounts"
urlpatterns = [
    path("", views.home, name="home"),
    path("sign-in/", views.SignIn.as_view(), name="sign_in"),
    path("unsaved/", unsaved.keep, name="unsaved"),
    path(
        "choose-password/<uidb64>/<token>/",
        views.ChoosePassword.as_view(),
        name="choose_password",
    ),
    path("forgotten/", views.request_password_reset, name="forgotten"),
    path("account/", views.own, name="own"),
    path("account/end-others/", views.end_others, name="end_others"),
    path("sign-out/", views.SignOut.as_view(), name="sign_out"),
]
