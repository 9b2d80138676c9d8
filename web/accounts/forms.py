"""Signing in."""

from django.contrib.auth.forms import AuthenticationForm, PasswordChangeForm

from web.ui.forms import DescribedForm


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


class OtherPasswordForm(DescribedForm, PasswordChangeForm):
    """Another password, by whoever knows the one that holds."""

    def __init__(self, *args, **kwargs):
        super().__init__(*args, **kwargs)
        self.fields["old_password"].label = "Your password now"
        self.fields["new_password1"].label = "The new one, at least twelve letters"
        self.fields["new_password1"].help_text = ""
        self.fields["new_password2"].label = "Once more"
        self.fields["new_password2"].help_text = ""
