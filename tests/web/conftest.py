"""Signed-in test clients."""

import pytest
from django.test import Client as Browser


@pytest.fixture
def as_clinician(clinician):
    browser = Browser()
    browser.force_login(clinician, "django.contrib.auth.backends.ModelBackend")
    return browser


@pytest.fixture
def as_client(person):
    browser = Browser()
    browser.force_login(person.account, "django.contrib.auth.backends.ModelBackend")
    return browser
