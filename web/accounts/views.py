"""Coming in and going out."""

from axes.helpers import get_cool_off
from django.contrib.auth.views import LoginView
from django.shortcuts import redirect, render

from .forms import SignInForm


class SignIn(LoginView):
    """Sign-in for clinicians. Clients come by their own link."""

    template_name = "accounts/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True


def home(request):
    """Where each person begins."""
    if not request.user.is_authenticated:
        return redirect("accounts:sign_in")
    return redirect("review:board" if request.user.is_clinician else "practice:today")


def locked_out(request, *args, **kwargs):
    """Too many wrong tries: says so, and when to come back."""
    minutes = round(get_cool_off().total_seconds() / 60)
    return render(request, "accounts/locked_out.html", {"minutes": minutes}, status=429)
