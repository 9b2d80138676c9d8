"""Browsers with somebody signed in."""

import time

from django.test import Client as Browser


def signed_in(user, *, answered=True):
    """As this person; ``answered``: who has just given the password once more."""
    browser = Browser()
    if user:
        browser.force_login(user, "django.contrib.auth.backends.ModelBackend")
        if answered and user.is_clinic_staff:
            session = browser.session
            again = {"method": "password", "at": time.time(), "reauthenticated": True}
            session["account_authentication_methods"] = [again]
            session["account_authentication_methods_user"] = str(user.pk)
            session.save()
    return browser
