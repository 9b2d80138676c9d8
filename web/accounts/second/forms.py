"""Forms of two-step verification and of confirming a password."""

from __future__ import annotations

from typing import Any

from allauth.account.forms import ReauthenticateForm
from allauth.mfa.base import forms as base
from allauth.mfa.totp.forms import ActivateTOTPForm
from allauth.mfa.webauthn.forms import AddWebAuthnForm
from django import forms
from django.utils.translation import gettext, gettext_lazy

from ..rate_limit import Limit, is_first, is_within_limit

#: A code has six digits, so allow few attempts; counted across all processes.
CODES_TRIED = Limit("codes tried", 8, 900)
#: A code is valid once, also across midnight; the same six digits rarely repeat by chance.
ONCE = Limit("code used", 1, 24 * 60 * 60)
TOO_MANY = gettext_lazy("Too many wrong codes. Wait 15 minutes, then enter a new code.")
USED = gettext_lazy("This code was already used. Wait for the next one.")


class _OneCode(forms.BaseForm):
    """A code is typed into one plain field; spaces between its digits do not matter."""

    user: Any

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["code"].label = gettext("Code")
        self.fields["code"].widget = forms.TextInput(
            attrs={"autocomplete": "one-time-code", "inputmode": "numeric", "autofocus": True}
        )

    def clean_code(self) -> str | None:
        """Allow few attempts, counted across all processes."""
        if not is_within_limit(CODES_TRIED, self.user.pk):
            raise forms.ValidationError(TOO_MANY)
        self.cleaned_data["code"] = "".join(self.cleaned_data["code"].split())
        code = super().clean_code()  # type: ignore[misc]  # the form's that it is mixed into
        if not is_first(ONCE, f"{self.user.pk}/{code}"):
            raise forms.ValidationError(USED)
        return code


class AnswerForm(_OneCode, base.AuthenticateForm):
    """Form for the code at sign-in."""


class AnswerAgainForm(_OneCode, base.ReauthenticateForm):
    """Once more."""


class AddCodesForm(_OneCode, ActivateTOTPForm):
    """The first code of a new device."""


class PasswordAgainForm(ReauthenticateForm):
    """The password once more."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["password"].label = gettext("Your password")
        self.fields["password"].help_text = ""
        self.fields["password"].widget.attrs = {
            "autocomplete": "current-password",
            "autofocus": True,
        }

    def clean_password(self) -> str | None:
        """Check the password, with the product's own message."""
        try:
            return super().clean_password()
        except forms.ValidationError:
            raise forms.ValidationError(gettext("The password is wrong.")) from None


class AddPasskeyForm(AddWebAuthnForm):
    """A passkey with a name of one's own."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["name"].label = gettext("Name of this passkey")
        self.fields["name"].help_text = gettext("A name helps you find this passkey later.")
        self.fields["name"].max_length = 60
        self.fields.pop("passwordless", None)
        if self.initial.get("name") in ("Master key", "Backup key"):
            self.initial["name"] = gettext("This device")
