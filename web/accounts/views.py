"""Coming in and going out."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from allauth.account.internal.flows.login import perform_password_login
from allauth.account.models import Login
from allauth.mfa.adapter import get_adapter
from allauth.mfa.models import Authenticator
from allauth.mfa.webauthn.views import RemoveWebAuthnView
from axes.helpers import get_cool_off
from django.contrib import messages
from django.contrib.auth import update_session_auth_hash
from django.contrib.auth.forms import AuthenticationForm, SetPasswordForm
from django.contrib.auth.views import LoginView, LogoutView, PasswordResetConfirmView
from django.db import transaction
from django.forms.forms import Form
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render, resolve_url
from django.urls import reverse_lazy
from django.utils.translation import gettext, ngettext
from django.views.decorators.http import require_http_methods, require_POST

from web.ui.saving import lock_row

from .access import working_here
from .actions import forgot_password, notify_of_change
from .address import address_of
from .forms import OtherPasswordForm, SignInForm
from .second.required_methods import has_second_step
from .second.trusted_devices import forget_older
from .sessions import end_sessions, record_session, sessions_of

if TYPE_CHECKING:
    from web.accounts.models import User
    from web.accounts.requests import SignedInRequest


class SignIn(LoginView):
    """Sign-in for clinicians. Clients come by their own link."""

    template_name = "accounts/sign_in.html"
    authentication_form = SignInForm
    redirect_authenticated_user = True

    def form_valid(self, form: AuthenticationForm) -> Any:
        """Sign in, or continue with two-step verification."""
        user = form.get_user()
        forget_older(self.request, user)
        login = Login(user=user, redirect_url=self.get_success_url())
        return perform_password_login(self.request, {"username": user.username}, login)


class RemovePasskey(RemoveWebAuthnView):
    """Remove a passkey, unless it is the last second step and the clinic requires one."""

    def form_valid(self, form: Form) -> HttpResponse:
        """Remove it, or show why it cannot be removed."""
        adapter = get_adapter()
        if not adapter.can_delete_authenticator(self.get_object()):
            messages.error(self.request, adapter.error_messages["cannot_delete_authenticator"])
            return redirect("accounts:own")
        return super().form_valid(form)


class ChoosePassword(PasswordResetConfirmView):
    """A password chosen by a link that is good once."""

    template_name = "accounts/choose_password.html"
    success_url = reverse_lazy("accounts:sign_in")

    def form_valid(self, form: SetPasswordForm) -> HttpResponse:
        """Save the password unless the link was used in another window; sign-in is next."""
        with transaction.atomic():
            chosen: User = form.user
            stored = lock_row(chosen)
            if stored.password != chosen.password:
                self.validlink = False
                return self.render_to_response(self.get_context_data(form=None))
            form.user = stored
            answer = super().form_valid(form)
        messages.success(self.request, gettext("Your password is saved. Sign in with it."))
        if chosen.has_usable_password():
            notify_of_change(stored, "password")
        return answer


class SignOut(LogoutView):
    """Sign out and clear the device: stored input and cached pages.

    The page asks before it comes here if something of the person's waits there to be sent.
    """

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> Any:
        """Redirect to the sign-in page that was used."""
        self.practised = request.user.is_authenticated and request.user.practises
        response = super().post(request, *args, **kwargs)
        response["Clear-Site-Data"] = '"cache", "storage"'
        return response

    def get_default_redirect_url(self) -> str:
        """Return the code page for a client's device, else the sign-in page."""
        return resolve_url("practice:code" if self.practised else "accounts:sign_in")


def home(request: SignedInRequest) -> HttpResponse:
    """Return where each person begins."""
    if not request.user.is_authenticated:
        return redirect("accounts:sign_in")
    return redirect("decisions:board" if request.user.is_clinic_staff else "practice:today")


@require_http_methods(["GET", "POST"])
def request_password_reset(request: HttpRequest) -> HttpResponse:
    """Email a reset link; never reveal whether the account exists."""
    if request.method == "POST":
        forgot_password(request.POST.get("who", ""), address=address_of(request))
    return render(request, "accounts/forgotten.html", {"sent": request.method == "POST"})


_KINDS = tuple(Authenticator.Type)


def deactivated_account(request: SignedInRequest) -> HttpResponse:
    """Refuse users whose account was deactivated."""
    return render(request, "accounts/closed.html", status=403)


@working_here
@require_http_methods(["GET", "POST"])
def own(request: SignedInRequest) -> HttpResponse:
    """Show the user's own account: password, two-step verification and sessions."""
    form = OtherPasswordForm(request.user, request.POST or None)
    if request.method == "POST" and form.is_valid():
        form.save()
        update_session_auth_hash(request, request.user)
        request.session.save()  # The session list reads the new key from the database.
        record_session(own, request, request.user)
        end_sessions(request.user, but=request.session.session_key)
        notify_of_change(request.user, "password")
        messages.success(
            request, gettext("The new password is saved. Your other sessions are signed out.")
        )
        return redirect("accounts:own")
    steps = Authenticator.objects.filter(user=request.user).order_by("created_at")
    by_type = {kind: [each.wrap() for each in steps if each.type == kind] for kind in _KINDS}
    context = {
        "form": form,
        "sessions": sessions_of(request.user),
        "has_second_step": has_second_step(request.user),
        "codes": by_type[Authenticator.Type.TOTP],
        "passkeys": by_type[Authenticator.Type.WEBAUTHN],
        "spare": sum(
            len(each.get_unused_codes()) for each in by_type[Authenticator.Type.RECOVERY_CODES]
        ),
    }
    return render(request, "accounts/own.html", context)


@working_here
@require_POST
def end_others(request: SignedInRequest) -> HttpResponse:
    """End all other sessions."""
    count = end_sessions(request.user, but=request.session.session_key)
    messages.success(
        request,
        ngettext(
            "{count} other session signed out.", "{count} other sessions signed out.", count
        ).format(count=count),
    )
    return redirect("accounts:own")


def locked_out(request: SignedInRequest, *args: Any, **kwargs: Any) -> HttpResponse:
    """Show that there were too many wrong attempts, and when to try again."""
    minutes = round(get_cool_off().total_seconds() / 60)
    return render(request, "accounts/locked_out.html", {"minutes": minutes}, status=429)
