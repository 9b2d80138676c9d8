"""Browsers with a signed-in user."""

import time

from django.test import Client as Browser


def signed_in(user, *, answered=True):
    """Return a browser of this user; ``answered``: just reauthenticated."""
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
