"""Every page of every role in the pseudo-locale: unmarked texts are reported."""

from copy import copy
from datetime import timedelta

import pytest
from django.db import transaction
from django.test import Client as Browser
from django.utils import timezone

from tests.factories import baseline_trial, trial
from tests.pseudo import spoken, typed, unmarked
from tests.web.signing_in import signed_in
from tests.web.test_access import ACCESS, PARTS, a_decision, a_stop, address, users

__all__ = ["users"]

#: One user of each role.
READERS = ("the clinician", "an assistant", "an auditor", "the client", "a helper", "nobody")


@pytest.fixture
def full_record(person, task, clinician):
    """A record with data on each of its pages: trials, a stop, a baseline, a message."""
    now = timezone.now()
    for back in range(10):
        trial(
            task, performed_at=now - timedelta(days=back), total_s=5.0 + back / 4, steady_s=4.0,
            outcome="met" if back % 3 else "not_met", error_cents=-12.0, spread_cents=9.0,
        )  # fmt: skip
    for step in ("vowel", "s", "z"):
        baseline_trial(person, by=clinician, step=step)
    a_stop(person)
    a_decision(task)
    person.caution_entries = {"asthma": {}}
    person.props = ["straw_5mm"]
    person.save()


def pages_of(url, cookies):
    """Yield the page of each reader; none for a file, which takes long to make for each."""
    for each in cookies:
        browser = Browser()
        browser.cookies = copy(each)
        response = browser.get(url)
        if response.status_code == 200 and "text/html" not in response["Content-Type"]:
            return
        if "text/html" in response.get("Content-Type", ""):
            yield response.content.decode()


@pytest.mark.parametrize("part", range(PARTS))
def test_no_page_has_a_text_that_is_not_marked(part, users, person, task, full_record, monkeypatch):
    left = {}
    cookies = [signed_in(users[reader]).cookies for reader in READERS]
    for name in list(ACCESS)[part::PARTS]:
        if ACCESS[name][0] != "get":
            continue
        with transaction.atomic():
            url = address(name, person, task)
            known = typed()
            with spoken(monkeypatch):
                pages = list(pages_of(url, cookies))
            if found := unmarked("\n".join(pages), known):
                left[name] = found
            transaction.set_rollback(True)
    assert not left
