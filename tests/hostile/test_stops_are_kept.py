"""A stop with a genuine page token is stored, shown and emailed, whatever else is wrong with it."""

import html
import json
import threading
import uuid
from base64 import b64encode
from datetime import timedelta

import pytest
from django.core import mail, signing
from django.db import OperationalError, connection, transaction
from django.test import Client as Browser
from django.urls import reverse
from django.utils import timezone

from tests.factories import ClientFactory, ClinicianFactory
from tests.hostile.test_entries import STOPS
from tests.jobs import run_jobs
from tests.sealed import sealed_to
from tests.web.signing_in import signed_in
from web.clients.actions import add_helper
from web.clients.models import Client
from web.intake.models import RefusedEntry
from web.practice import page_token as tokens
from web.practice.models import DeviceKey
from web.practice.sealing import sealing_key
from web.screening.models import Stop
from web.screening.queries import is_paused
from web.screening.shown_stops import reasons_of

HELD = {"flags": ["breathing"], "comment": "since this morning", "session": str(uuid.uuid4())}
UNKNOWN = ["unknown_reason"]


@pytest.fixture
def reachable(person, clinician, prescribed):
    type(clinician).objects.filter(pk=clinician.pk).update(email="imre@saltmarsh.example")
    return person


def stop_body(person, **more):
    """Return a stop as a device sends it; None removes a field."""
    made = {
        "page": tokens.page_token(person, by=person.account),
        "key": str(uuid.uuid4()),
        "flags": ["breathing"],
        "at": timezone.now().isoformat(),
        "sent_at": timezone.now().isoformat(),
        **more,
    }
    return {name: value for name, value in made.items() if value is not None}


def send(body):
    """Send it without a sign-in."""
    body = body if isinstance(body, bytes) else json.dumps(body).encode()
    return Browser().post(reverse("intake:stop"), body, content_type="application/json")


def is_kept_shown_and_mailed(person, flags, *, by):
    stop = Stop.objects.get(client=person)
    assert stop.flags == flags
    run_jobs()
    mail_went_out = [each for each in mail.outbox if "imre@saltmarsh.example" in each.to]
    assert mail_went_out or stop.tier not in ("emergency", "no_more_voicing")
    board = signed_in(by).get(reverse("decisions:board")).context["groups"]
    assert person.pk in [
        line.client for group in board if group.code == "stop" for line in group.lines
    ]
    results = signed_in(by).get(f"/clients/{person.pk}/").content.decode()
    assert reasons_of(flags) in html.unescape(results)
    if stop.tier in ("emergency", "no_more_voicing"):
        assert is_paused(person)
    return stop


def sealed(person, words=HELD):
    return b64encode(sealed_to(sealing_key(person), words)).decode()


def to_an_older_key(person):
    old = sealed(person)
    DeviceKey.objects.filter(client=person).delete()
    return stop_body(person, flags=None, sealed=old)


def to_a_key_that_is_gone(person):
    made = stop_body(person, flags=None, sealed=sealed(person))
    DeviceKey.objects.filter(client=person).delete()
    return made


def to_anothers_key(person):
    return stop_body(person, flags=None, sealed=sealed(ClientFactory(clinic=person.clinic)))


def too_old(person, *, days):
    """Return a stop of a page made this long ago."""
    with pytest.MonkeyPatch.context() as patch:
        then = timezone.now() - timedelta(days=days)
        patch.setattr("django.core.signing.time.time", then.timestamp)
        return stop_body(person)


def by_a_key_no_longer_known(person):
    """Return a stop of a page signed with a site key that was replaced and removed."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("django.conf.settings.SECRET_KEY", "a key of long ago " * 4)
        return stop_body(person)


def under_a_link_since_replaced(person):
    made = stop_body(person)
    Client.objects.filter(pk=person.pk).update(
        practice_code="another", practice_issued_at=timezone.now()
    )
    return made


def by_a_colleague_since_gone(person):
    colleague = ClinicianFactory(clinic=person.clinic)
    made = stop_body(person, page=tokens.page_token(person, by=colleague))
    type(colleague).objects.filter(pk=colleague.pk).update(is_active=False)
    return made


def by_a_helper_since_gone(person):
    helper = add_helper(person, name="Ana", relation="daughter")
    made = stop_body(person, page=tokens.page_token(person, by=helper.account))
    type(helper.account).objects.filter(pk=helper.account.pk).update(is_active=False)
    return made


def by_a_client_whose_account_is_closed(person):
    made = stop_body(person)
    type(person.account).objects.filter(pk=person.account.pk).update(is_active=False)
    return made


def as_the_version_before_signed(person):
    """Return a stop whose token has the site's signature only."""
    return stop_body(person, page=tokens.page_token(person, by=person.account).partition("~")[0])


def cut(person, **more):
    return json.dumps(stop_body(person, **more)).encode()[:-40]


BREATHING = ["breathing"]
BOTH = ["breathing", "unknown_reason"]
#: Damaged stops, and the flags that each is stored with.
VARIANTS = {
    **{name: (lambda person, more=more: stop_body(person, **more), BREATHING) for name, more in STOPS.items()},
    "sealed as it should be": (lambda person: stop_body(person, flags=None, sealed=sealed(person)), BREATHING),
    "sealed to a key since replaced": (to_an_older_key, UNKNOWN),
    "sealed to a key that is gone": (to_a_key_that_is_gone, UNKNOWN),
    "sealed to somebody else's key": (to_anothers_key, UNKNOWN),
    "a broken seal": (lambda person: stop_body(person, flags=None, sealed=sealed(person)[:-8] + "AAAAAAAA"), UNKNOWN),
    "a seal cut short": (lambda person: stop_body(person, flags=None, sealed=sealed(person)[:40]), UNKNOWN),
    "a seal with an accent": (lambda person: stop_body(person, flags=None, sealed="é" + sealed(person)), UNKNOWN),
    "a seal that is a number": (lambda person: stop_body(person, flags=None, sealed=7), UNKNOWN),
    "a seal that is empty": (lambda person: stop_body(person, flags=None, sealed=""), UNKNOWN),
    "a broken seal beside readable flags": (lambda person: stop_body(person, sealed="AAAA"), BOTH),
    "a seal that holds a list": (lambda person: stop_body(person, flags=None, sealed=sealed(person, "[1]")), UNKNOWN),
    "a seal that holds no JSON": (lambda person: stop_body(person, flags=None, sealed=sealed(person, "{")), UNKNOWN),
    "61 days old": (lambda person: too_old(person, days=61), BREATHING),
    "three years old": (lambda person: too_old(person, days=1100), BREATHING),
    "signed by a forgotten key of the site": (by_a_key_no_longer_known, BREATHING),
    "as the version before signed": (as_the_version_before_signed, BREATHING),
    "a link since replaced": (under_a_link_since_replaced, BREATHING),
    "a colleague since gone": (by_a_colleague_since_gone, BREATHING),
    "a helper since gone": (by_a_helper_since_gone, BREATHING),
    "a closed account": (by_a_client_whose_account_is_closed, BREATHING),
    "9 kB": (lambda person: stop_body(person, comment="x" * 9_000), BREATHING),
    "60 kB": (lambda person: stop_body(person, comment="x" * 60_000), BREATHING),
    "2 MB": (lambda person: stop_body(person, comment="x" * 2_000_000), UNKNOWN),
    "cut off in the middle": (cut, UNKNOWN),
    "too deep to be read": (lambda person: stop_body(person, more=json.loads("[" * 40 + "]" * 40)), UNKNOWN),
    "no flags": (lambda person: stop_body(person, flags=[]), UNKNOWN),
    "flags that are a text": (lambda person: stop_body(person, flags="breathing"), UNKNOWN),
    "flags of a later version alone": (lambda person: stop_body(person, flags=["of_tomorrow"]), UNKNOWN),
    "flags left out": (lambda person: stop_body(person, flags=None), UNKNOWN),
    "a time far ahead": (lambda person: stop_body(person, at="2999-01-01T00:00:00Z", sent_at="x"), BREATHING),
}  # fmt: skip


@pytest.mark.parametrize("variant", VARIANTS.values(), ids=VARIANTS)
def test_a_stop_is_stored_shown_and_mailed(variant, reachable, clinician):
    made, flags = variant
    body = made(reachable)
    # The settings and the clock are unchanged when it arrives.
    answer = send(body)
    assert answer.status_code == 200, answer.content
    assert answer.json()["kept"] is True
    is_kept_shown_and_mailed(reachable, flags, by=clinician)
    # A device that missed the answer sends the same stop again.
    assert send(body).status_code == 200
    assert Stop.objects.count() == 1


@pytest.mark.parametrize("page", ["", "forged", "1:2:3~x", "W10:x:y~z", None, [1], {"a": 1}, "é~é"])
def test_without_a_genuine_token_nothing_is_kept(page, reachable):
    assert send(stop_body(reachable, page=page)).status_code == 403
    assert not Stop.objects.exists()


def test_the_clients_own_signature_opens_no_other_clients_record(reachable):
    """With the site's key gone, only the client's key identifies the client of the page."""
    other = ClientFactory(clinic=reachable.clinic)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("django.conf.settings.SECRET_KEY", "a key of long ago " * 4)
        mine, _, signature = tokens.page_token(reachable, by=reachable.account).partition("~")
        theirs = signing.dumps([other.pk, other.account.pk, ""], salt=tokens._SALT)
    DeviceKey.objects.filter(client=other).delete()
    sealing_key(other)
    assert tokens.holder_of(f"{mine}~{signature}").client == reachable
    assert tokens.holder_of(f"{theirs}~{signature}") is None


def test_each_entry_that_could_not_be_opened_leaves_a_row_of_its_own(reachable):
    for sealed_text in ("AAAA", "BBBB", "BBBB", "é"):
        send(stop_body(reachable, flags=None, sealed=sealed_text))
    assert RefusedEntry.objects.filter(client=reachable).count() == 3


def test_a_stop_for_a_client_who_was_erased_has_a_clear_answer(reachable, monkeypatch):
    body = stop_body(reachable)
    holder = tokens.holder_of(body["page"])
    monkeypatch.setattr("web.intake.views.entries.take_stop", lambda *given, **named: None)
    monkeypatch.setattr("web.intake.views.entries.holder_of", lambda page: holder)
    answer = send(body)
    assert answer.status_code == 410
    assert answer.json()["state"] == "closed"


@pytest.mark.django_db(transaction=True)
def test_a_locked_row_holds_a_stop_up_and_loses_none(reachable, clinician):
    """Another user edits the client's record while the stop arrives."""
    answers = []
    with transaction.atomic():
        Client.objects.select_for_update().get(pk=reachable.pk)
        sending = threading.Thread(
            target=lambda: (
                answers.append(send(stop_body(reachable)).status_code),
                connection.close(),
            )
        )
        body = stop_body(reachable)
        sending.start()
        waits_for_a_lock(1)
    sending.join()
    assert answers == [200]
    assert send(body).status_code == 200
    assert Stop.objects.filter(client=reachable).count() == 2


def waits_for_a_lock(many):
    """Wait until this many connections wait for a lock."""
    asks = "select count(*) from pg_stat_activity where wait_event_type = 'Lock' and datname = current_database()"
    with connection.cursor() as cursor:
        for _ in range(2000):
            cursor.execute(asks)
            if cursor.fetchone()[0] >= many:
                return
            threading.Event().wait(0.01)
    raise AssertionError("nobody waits for a lock")


def test_with_the_database_away_a_stop_is_sent_again_and_then_kept(reachable, monkeypatch):
    body = stop_body(reachable)
    with monkeypatch.context() as patch:

        def away(*given, **named):
            raise OperationalError("the connection is lost")

        patch.setattr(
            "web.practice.page_token.Client.objects", type("", (), {"select_related": away})
        )
        browser = Browser(raise_request_exception=False)
        answer = browser.post(reverse("intake:stop"), body, content_type="application/json")
        assert answer.status_code == 503
        assert int(answer["Retry-After"]) > 0
    assert send(body).status_code == 200
    assert Stop.objects.get().flags == BREATHING
