"""Signed-in test clients."""

import asyncio
import json
import re
import uuid
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse
from django.utils import timezone

from tests.factories import item, publish_anyway, simple_document
from tests.web.signing_in import signed_in


@pytest.fixture
def as_clinician(clinician):
    return signed_in(clinician)


@pytest.fixture
def as_client(person):
    return signed_in(person.account)


@pytest.fixture
def clock(monkeypatch):
    """Set the current time."""

    def at(moment):
        monkeypatch.setattr("django.utils.timezone.now", lambda: moment)

    return at


def run(story):
    """Run a coroutine in its own event loop, because the browser's may be in this thread."""
    with ThreadPoolExecutor(1) as thread:
        return thread.submit(lambda: asyncio.run(story())).result()


def plan_shown(browser, url="/practice/"):
    """Return the plan of the player's page."""
    page = browser.get(url).content.decode()
    return json.loads(re.search(r'<script id="plan"[^>]*>(.*?)</script>', page, re.S)[1])


def sitting(person, **more):
    """Return the session of a device's entries."""
    return {
        "key": str(uuid.uuid4()),
        "version": person.programmes.order_by("-version").first().version,
        "sort": "full",
        "day": "usual",
        "voice": "as_usual",
        "begun_at": timezone.now().isoformat(),
        "planned": 1,
        **more,
    }


def entry(person, kind, session=None, **more):
    """Return an entry in a device's format."""
    return {
        "key": str(uuid.uuid4()),
        "at": timezone.now().isoformat(),
        "session": session or sitting(person),
        "kind": kind,
        **more,
    }


def send(browser, said, *, recording=None, sent_at=None, url=None):
    """Send an entry, with its sound if it has one."""
    body = {"entry": said if isinstance(said, str) else json.dumps(said)}
    body["sent_at"] = sent_at or timezone.now().isoformat()
    if recording is not None:
        body["recording"] = SimpleUploadedFile("try.wav", recording)
    return browser.post(url or reverse("intake:entries"), body)


@pytest.fixture
def prescribed(person, clinician):
    """A straw hold on F3 for 8 s, four tries, for a month."""
    document = simple_document(item("straw_hold", notes=[53], params={"seconds": 8, "reps": 4}))
    document["dose"] |= {"start": (timezone.localdate() - timedelta(days=30)).isoformat(), "a_day": 1,
                         "weekdays": [0, 1, 2, 3, 4, 5, 6], "weeks": 12}  # fmt: skip
    programme = publish_anyway(person, document, by=clinician)
    programme.published_at = timezone.now() - timedelta(days=30)
    programme.save()
    return programme


@pytest.fixture
def programme(person, clinician):
    """One task of each kind of measure."""
    document = simple_document(
        item("steady_hiss", params={"seconds": 10}),
        item("s_to_z"),
        item("block_stretch", notes=[48, 60]),
        item("five_note", notes=[48], params={"tempo": 120}),
        item("strong_ah", params={"seconds": 5}, floor=6.0, ceiling=16.0, sip=True),
        item("functional_phrases", params={"lines": 3}, sip=True),
        item("lips_stretch"),
    )
    return publish_anyway(person, document, by=clinician)
