"""Every page of every role in the pseudo-locale: unmarked texts are reported."""

from datetime import timedelta

import pytest
from django.db import transaction
from django.utils import timezone

from tests.factories import baseline_trial, trial
from tests.pseudo import spoken, typed, unmarked
from tests.web.signing_in import signed_in
from tests.web.test_access import ACCESS, PARTS, a_decision, a_stop, address, users

__all__ = ["users"]

#: One user of each role.
READERS = ("nobody", "the client", "the clinician", "an assistant", "an auditor", "a helper")


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


@pytest.mark.parametrize("part", range(PARTS))
def test_no_page_has_a_text_that_is_not_marked(part, users, person, task, full_record, monkeypatch):
    left = {}
    for name in list(ACCESS)[part::PARTS]:
        if ACCESS[name][0] != "get":
            continue
        with transaction.atomic():
            url = address(name, person, task)
            known = typed()
            with spoken(monkeypatch):
                for reader in READERS:
                    response = signed_in(users[reader]).get(url)
                    if "text/html" not in response.get("Content-Type", ""):
                        continue
                    if found := unmarked(response.content.decode(), known):
                        left.setdefault(name, set()).update(found)
            transaction.set_rollback(True)
    assert not left
