"""A trusted device skips two-step verification for the number of days that the
clinic allows."""

from __future__ import annotations

import time
from typing import TYPE_CHECKING, Any

from allauth.mfa import app_settings
from allauth.mfa.base.views import TrustView
from allauth.mfa.internal.flows.trust import decode_trust_cookie, encode_trust_cookie
from django.forms.forms import Form
from django.http import HttpRequest, HttpResponse

if TYPE_CHECKING:
    from web.accounts.models import User

DAY_S = 24 * 60 * 60


def forget_older(request: HttpRequest, user: User) -> None:
    """Forget trust older than the clinic allows, or older than the user's
    current role."""
    name = app_settings.TRUST_COOKIE_NAME
    if name in request.COOKIES:
        oldest = time.time() - DAY_S * user.clinic.device_remembered_days
        if user.role_given_at is not None:
            oldest = max(oldest, user.role_given_at.timestamp())
        kept = [each for each in decode_trust_cookie(request) if each.at > oldest]
        request.COOKIES[name] = encode_trust_cookie(kept)


class RememberView(TrustView):
    """Ask whether to remember this device, if the clinic allows it."""

    @property
    def clinic(self) -> Any:
        """Return the trusted devices of the user who is signing in."""
        return self.request._login_stage.login.user.clinic

    def get(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        """Skip the question on devices that the clinic does not trust."""
        if not self.clinic.device_remembered_days:
            return request._login_stage.exit()  # type: ignore[attr-defined]  # the package's
        return super().get(request, *args, **kwargs)

    def form_valid(self, form: Form) -> HttpResponse:
        """Trust no device if the clinic forbids it, whatever the form says."""
        if not self.clinic.device_remembered_days:
            return self.request._login_stage.exit()
        return super().form_valid(form)

    def get_context_data(self, **kwargs: Any) -> dict[str, Any]:
        """Add the number of days."""
        return super().get_context_data(**kwargs) | {"days": self.clinic.device_remembered_days}
