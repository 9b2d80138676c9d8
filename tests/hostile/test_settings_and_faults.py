"""A site that cannot send alerts does not start; an error has an id in the log; guessing is
limited."""

import logging
import os
import subprocess
import sys
from datetime import timedelta

import pytest
from axes.models import AccessAttempt
from django.conf import settings
from django.db import OperationalError
from django.test import Client as Browser
from django.urls import reverse
from django.utils import timezone

from tests.factories import PASSWORD, PIN
from tests.hostile.test_entries import stop
from tests.sizes import every, short
from tests.web.conftest import entry, send
from tests.web.test_recordings import good
from web.accounts.models import AttemptCount
from web.accounts.rate_limit import Limit, is_within_limit
from web.decisions.views import board
from web.record.models import Trial
from web.scheduled.jobs import forget_counts

WHOLE = {
    "DJANGO_SETTINGS_MODULE": "web.config.settings.production",
    "SECRET_KEY": "k3y-of-a-clinic-that-is-long-and-varied-0123456789-abcdefghij",
    "PASSWORD_PEPPER": "s3cret-of-a-clinic-beside-the-salt-0123456789",
    "ALLOWED_HOSTS": "practice.clinic.example",
    "SITE_URL": "https://practice.clinic.example",
    "EMAIL_URL": "smtp+tls://u:p@mail.clinic.example:587",
    "MAIL_FROM": "Still Reed <practice@clinic.example>",
}


def run_check(**changed):
    environment = {**os.environ, **WHOLE, **changed}
    words = [sys.executable, "manage.py", "check", "--deploy", "--fail-level", "WARNING"]
    return subprocess.run(
        words, env=environment, cwd=settings.ROOT, capture_output=True, text=True, check=False
    )


def test_a_whole_production_passes_djangos_own_look():
    done = run_check()
    assert done.returncode == 0, done.stderr


MISSING = {
    "PASSWORD_PEPPER": (
        "",
        "PASSWORD_PEPPER is not set, so a stolen database allows guessing of passwords and PINs",
    ),
    "SECRET_KEY": ("", "openssl rand"),
    "EMAIL_URL": ("", "the mail server"),
    "SITE_URL": (
        "http://practice.clinic.example",
        "SITE_URL must be an https address: it is used in every email",
    ),
    "ALLOWED_HOSTS": (
        "elsewhere.example",
        "ALLOWED_HOSTS must contain the host of SITE_URL and no wildcard",
    ),
    "MAIL_FROM": ("", "whom mails are from"),
}


@pytest.mark.parametrize("name", short(MISSING, takes=every(3)))
def test_a_missing_setting_is_named(name):
    value, says = MISSING[name]
    done = run_check(**{name: value})
    assert done.returncode != 0
    assert says in done.stderr
    assert name in done.stderr


def test_mail_to_nowhere_does_not_do():
    done = run_check(EMAIL_URL="consolemail://")
    assert "email is not delivered, so stop alerts would be lost" in done.stderr


def test_a_key_for_reminders_that_is_none_is_named_before_anything_starts():
    done = run_check(WEB_PUSH_KEY="changeme")
    assert done.returncode != 0
    assert "WEB_PUSH_KEY is not a key. Make one with: still-reed push-key" in done.stderr


def test_without_settings_nothing_falls_back_on_the_demo():
    environment = {k: v for k, v in os.environ.items() if k not in WHOLE}
    done = subprocess.run(
        [sys.executable, "manage.py", "check"],
        env=environment, cwd=settings.ROOT, capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert done.returncode != 0
    assert "Still Reed does not start" in done.stderr


def test_a_fault_of_ours_has_a_word_on_the_page_and_in_the_log(as_clinician, monkeypatch, caplog):
    def breaks(*given, **named):
        raise ZeroDivisionError("of ours")

    monkeypatch.setattr(board, "lines_for", breaks)
    as_clinician.raise_request_exception = False
    from web.ui.faults import FaultFilter

    with caplog.at_level(logging.ERROR, "django.request"):
        page = as_clinician.get(reverse("decisions:board"))
    assert page.status_code == 500
    (record,) = [each for each in caplog.records if each.exc_info]
    FaultFilter().filter(record)
    assert f'<strong class="tabular">{record.fault}</strong>' in page.content.decode()
    assert "of ours" not in page.content.decode()


def test_a_database_that_is_away_asks_to_come_again(as_clinician, as_client, person, monkeypatch):
    def away(*given, **named):
        raise OperationalError("the connection is lost")

    monkeypatch.setattr(board, "lines_for", away)
    as_clinician.raise_request_exception = False
    page = as_clinician.get(reverse("decisions:board"))
    assert page.status_code == 503
    assert int(page["Retry-After"]) > 0
    assert (
        "The clinic’s records cannot be reached right now. Saved data is safe. This page tries again every"
        in page.content.decode()
    )


def test_more_recordings_than_can_be_measured_come_again_later(as_client, person, task, settings):
    settings.ANALYSES_WAITING = 0
    said = entry(person, "sound", task=task.pk, source="file")
    answer = send(as_client, said, recording=good())
    assert answer.status_code == 503
    assert int(answer["Retry-After"]) > 0
    assert not Trial.objects.exists()
    settings.ANALYSES_WAITING = 8
    assert send(as_client, said, recording=good()).status_code == 200
    assert Trial.objects.count() == 1


def test_a_flood_of_entries_is_throttled_and_a_stop_is_not(as_client, person, task, monkeypatch):
    from web.intake.views import entries as incoming

    monkeypatch.setattr(incoming, "ENTRIES", incoming.Limit("few", most=2, window_s=60))
    answers = [send(as_client, entry(person, "begun")).status_code for _ in range(4)]
    assert answers == [200, 200, 429, 429]
    assert stop(as_client, person).status_code == 200


def sign_in(name, password=PIN, **more):
    said = {"username": name, "password": password}
    return Browser().post(reverse("accounts:sign_in"), said, **more).status_code


@pytest.mark.parametrize("name", ["clinician", "nobody-of-that-name"])
def test_known_and_unknown_names_are_limited_alike_and_by_address(clinician, name):
    name = clinician.username if name == "clinician" else name
    answers = [sign_in(name) for _ in range(8)]
    assert answers[0] == 200
    assert answers[-1] == 429
    if name == clinician.username:  # A stranger cannot lock a colleague's name.
        assert sign_in(name, PASSWORD, REMOTE_ADDR="10.1.2.3") == 302


def test_throttle_counts_expire(db, clock):
    is_within_limit(Limit("tries", most=1, window_s=60), "somebody")
    forget_counts(0)
    assert AttemptCount.objects.count() == 1
    clock(timezone.now() + timedelta(days=3))
    forget_counts(0)
    assert not AttemptCount.objects.exists()


def test_no_pin_that_was_typed_wrongly_is_kept(client, person):
    client.post(reverse("practice:enter", args=[person.practice_code]), {"pin": "918273"})
    for row in AccessAttempt.objects.all():
        assert "918273" not in f"{row.post_data} {row.get_data} {row.path_info}"
        assert person.practice_code not in row.path_info
