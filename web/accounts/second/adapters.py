"""Settings of the accounts package: no sign-up, secrets encrypted with the site's key."""

from __future__ import annotations

import base64
import secrets
from typing import TYPE_CHECKING, Any

import segno
from allauth.account.adapter import DefaultAccountAdapter
from allauth.mfa.adapter import DefaultMFAAdapter
from allauth.mfa.models import Authenticator
from cryptography.fernet import InvalidToken
from django.http import HttpRequest
from django.utils.translation import gettext, gettext_lazy

from web.accounts.address import ip_of
from web.keeping.keyring import box

if TYPE_CHECKING:
    from web.accounts.models import User

#: Types that count as a second step; recovery codes alone do not.
STEPS = (Authenticator.Type.TOTP, Authenticator.Type.WEBAUTHN)
#: The purpose that separates these encryption keys from the site's others.
SEALED_FOR = "two-step verification"


class AccountAdapter(DefaultAccountAdapter):
    """People come by invitation, and the pages speak in their own words."""

    def is_open_for_signup(self, request: HttpRequest) -> Any:
        """Return False: sign-up is closed."""
        return False

    def add_message(
        self,
        request: HttpRequest,
        level: int,
        message_template: str | None = None,
        *args: Any,
        message: Any = None,
        **kwargs: Any,
    ) -> None:
        """Show no message: pages have their own, except for errors that only the package knows."""
        if message:
            super().add_message(request, level, message=message)

    def get_client_ip(self, request: HttpRequest) -> str:
        """Return the client's address, trusting the configured number of proxies."""
        return ip_of(request)

    def get_login_redirect_url(self, request: HttpRequest) -> str:
        """Return where each person begins."""
        return "/"


class SecondStepAdapter(DefaultMFAAdapter):
    """Store codes and passkeys encrypted: a copy of the database cannot produce a code."""

    error_messages = DefaultMFAAdapter.error_messages | {
        "incorrect_code": gettext_lazy(
            "This code is not valid. Codes change every 30 seconds. If the next "
            "code fails too, check the clock of your device."
        ),
        "cannot_delete_authenticator": gettext_lazy(
            "Your clinic requires two-step verification, and this "
            "is your last method. Add another before you remove it."
        ),
        "cannot_generate_recovery_codes": gettext_lazy(
            "Recovery codes need two-step verification. Add an "
            "authenticator app or a passkey first."
        ),
    }

    def get_totp_label(self, user: User) -> str:
        """Return the name one signs in by."""
        return user.username

    def _get_user_identifier(self, user: User) -> str:
        return user.username

    def _get_site_name(self) -> str:
        return gettext("Still Reed")

    def build_totp_svg(self, url: str) -> str:
        """Return the QR code as inline SVG: the page may load no other resource."""
        return segno.make(url).svg_inline(scale=5, border=2)

    def encrypt(self, text: str) -> str:
        """Encrypt with the site's key."""
        return box(SEALED_FOR).encrypt(text.encode()).decode()

    def decrypt(self, encrypted_text: str) -> str:
        """Decrypt with the site's key or a previous one; if the key is lost, return a
        random secret: no code fits, and the lead resets two-step verification."""
        try:
            return box(SEALED_FOR).decrypt(encrypted_text.encode()).decode()
        except InvalidToken:
            return base64.b32encode(secrets.token_bytes(20)).decode()

    def can_delete_authenticator(self, authenticator: Any) -> bool:
        """Return whether a method may be removed: not the last one if the clinic requires one."""
        others = Authenticator.objects.filter(user=authenticator.user, type__in=STEPS)
        others = others.exclude(pk=authenticator.pk)
        return not authenticator.user.clinic.second_step_required or others.exists()
