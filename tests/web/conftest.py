"""Signed-in test clients."""

import asyncio
from concurrent.futures import ThreadPoolExecutor

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


def run(story):
    """Runs a coroutine function on an event loop of its own: the browser's may be in this thread."""
    with ThreadPoolExecutor(1) as thread:
        return thread.submit(lambda: asyncio.run(story())).result()
