"""Signing in."""

from __future__ import annotations

from typing import Any

from django.contrib.auth.forms import AuthenticationForm, PasswordChangeForm
from django.core.exceptions import ValidationError
from django.utils.translation import gettext, gettext_lazy

from web.ui.forms import DescribedForm

from .models import User
from .rate_limit import Limit, is_exhausted, is_within_limit

#: Limit per account from any address: axes counts only an account at one address (ASVS 2.2.1).
WRONG_PASSWORDS = Limit("wrong passwords of an account", 60, 3600)


class SignInForm(AuthenticationForm):
    """A clinician's name and password."""

    error_messages = {
        "invalid_login": gettext_lazy(
            "The user name or password is wrong. Check both. Passwords are case-sensitive."
        ),
        "inactive": gettext_lazy("This account has been deactivated. Contact your clinic lead."),
        "too_many": gettext_lazy(
            "Too many wrong passwords for this user name. Nothing was changed. Wait "
            "one hour, or reset your password by email."
        ),
    }

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["username"].label = gettext("User name or email")

    def clean_username(self) -> str:
        """Return the user name; an email address is replaced by the name of its only clinic
        account."""
        username = self.cleaned_data["username"]
        if "@" not in username:
            return username
        people = User.objects.filter(role__in=User.AT_WORK, is_active=True, email__iexact=username)
        names = list(people.values_list("username", flat=True)[:2])
        return names[0] if len(names) == 1 else username

    def clean(self) -> Any:
        """Check the password, unless there were too many wrong ones for this name in an hour."""
        name = str(self.cleaned_data.get("username", "")).casefold()
        if is_exhausted(WRONG_PASSWORDS, name):
            raise ValidationError(self.error_messages["too_many"], code="too_many")
        try:
            return super().clean()
        except ValidationError:
            is_within_limit(WRONG_PASSWORDS, name)
            raise


class OtherPasswordForm(DescribedForm, PasswordChangeForm):
    """Change the password; the current one is required."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        # This form is one of three on the page.
        self.fields["old_password"].widget.attrs.pop("autofocus", None)
        self.fields["old_password"].label = gettext("Current password")
        self.fields["new_password1"].label = gettext("New password (at least 12 characters)")
        self.fields["new_password1"].help_text = ""
        self.fields["new_password2"].label = gettext("Repeat the new password")
        self.fields["new_password2"].help_text = ""
