"""Coming in and going out."""

from axes.helpers import get_cool_off
from django.contrib import messages
from django.contrib.auth.views import LoginView, LogoutView, PasswordResetConfirmView
from django.shortcuts import redirect, render, resolve_url
from django.urls import reverse_lazy

from .forms import SignInForm


class SignIn(LoginView):
    """Sign-in for clinicians. Clients come by their own link."""

    template_name = "accounts/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True


class ChoosePassword(PasswordResetConfirmView):
    """A password chosen by a link that is good once."""

    template_name = "accounts/choose_password.html"
    success_url = reverse_lazy("accounts:sign_in")

    def form_valid(self, form):
        """Chosen: the way in is the sign-in page."""
        messages.success(self.request, "Your password is kept. Sign in with it.")
        return super().form_valid(form)


class SignOut(LogoutView):
    """Out, and nothing stays on the device: neither what the pages kept nor the pages themselves.

    The page asks before it comes here if something of the person's waits there to be sent.
    """

    def post(self, request, *args, **kwargs):
        """Back to the door one came in by."""
        self.was_client = request.user.is_authenticated and request.user.is_client
        response = super().post(request, *args, **kwargs)
        response["Clear-Site-Data"] = '"cache", "storage"'
        return response

    def get_default_redirect_url(self):
        return resolve_url("practice:code" if self.was_client else "accounts:sign_in")


def home(request):
    """Where each person begins."""
    if not request.user.is_authenticated:
        return redirect("accounts:sign_in")
    return redirect("decisions:board" if request.user.is_clinician else "practice:today")


def locked_out(request, *args, **kwargs):
    """Too many wrong tries: says so, and when to come back."""
    minutes = round(get_cool_off().total_seconds() / 60)
    return render(request, "accounts/locked_out.html", {"minutes": minutes}, status=429)
