"""Who came in, who did not, and what was refused stands in the log; a name does not."""

import logging

import pytest
from allauth.mfa.totp.internal.auth import TOTP
from django.test import Client as Browser
from django.urls import reverse

from tests.factories import PASSWORD
from tests.web.signing_in import signed_in


@pytest.fixture
def lines(caplog):
    log = logging.getLogger("still_reed.door")
    log.addHandler(caplog.handler)
    yield lambda: "\n".join(record.getMessage() for record in caplog.records)
    log.removeHandler(caplog.handler)


def test_coming_in_and_not_coming_in(clinician, lines):
    browser = Browser()
    for password in ("seven grey herons", PASSWORD):
        said = {"username": clinician.username, "password": password}
        browser.post(reverse("accounts:sign_in"), said)
    browser.post(reverse("accounts:sign_out"))
    told = lines()
    assert "a wrong password or PIN, from 127.0.0.1" in told
    assert f"person {clinician.pk} came in, from 127.0.0.1" in told
    assert f"person {clinician.pk} went" in told
    assert clinician.username not in told.replace(f"person {clinician.pk}", "")
    assert "herons" not in told


def test_a_wrong_code(clinician, lines):
    TOTP.activate(clinician, "JBSWY3DPEHPK3PXP")
    browser = Browser()
    said = {"username": clinician.username, "password": PASSWORD}
    browser.post(reverse("accounts:sign_in"), said)
    browser.post(reverse("mfa_authenticate"), {"code": "123456"})
    assert f"a wrong code for person {clinician.pk}" in lines()
    assert "123456" not in lines()


def test_a_page_that_is_not_theirs(person, lines):
    signed_in(person.account).get("/board/")
    assert f"person {person.account.pk} was refused decisions:board (GET)" in lines()
