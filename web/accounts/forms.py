"""Signing in."""

from django.contrib.auth.forms import AuthenticationForm


class SignInForm(AuthenticationForm):
    """A clinician's name and password."""

    error_messages = {
        "invalid_login": "This name and password do not belong together. "
        "Check both; capitals matter in the password.",
        "inactive": "This account has been closed. Ask your clinic lead.",
    }

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["username"].label = "Name"
