"""Sign-ins, failed sign-ins and refused pages are logged as events, by number and never by name."""

import json
import logging

import pytest
from allauth.mfa.totp.internal.auth import TOTP
from django.test import Client as Browser
from django.urls import reverse

from tests.factories import PASSWORD
from tests.web.signing_in import signed_in
from web.ui.logs import formatter


@pytest.fixture
def lines(caplog):
    log = logging.getLogger("still_reed.auth")
    log.addHandler(caplog.handler)
    yield lambda: [
        formatter().format(record) for record in caplog.records if record.name == "still_reed.auth"
    ]
    log.removeHandler(caplog.handler)


def test_coming_in_and_not_coming_in(clinician, lines):
    browser = Browser()
    for password in ("seven grey herons", PASSWORD):
        said = {"username": clinician.username, "password": password}
        browser.post(reverse("accounts:sign_in"), said)
    browser.post(reverse("accounts:sign_out"))
    failed, succeeded, left = lines()
    assert "level=warning event=login_failed" in failed
    assert "ip=127.0.0.1" in failed
    assert "user_id" not in failed
    assert f"event=login_succeeded logger=still_reed.auth user_id={clinician.pk}" in succeeded
    assert "ip=127.0.0.1" in succeeded
    assert f"event=logout logger=still_reed.auth user_id={clinician.pk}" in left
    for line in (failed, succeeded, left):
        assert f"={clinician.username}" not in line
        assert "herons" not in line


def test_a_wrong_code(clinician, lines):
    TOTP.activate(clinician, "JBSWY3DPEHPK3PXP")
    browser = Browser()
    said = {"username": clinician.username, "password": PASSWORD}
    browser.post(reverse("accounts:sign_in"), said)
    browser.post(reverse("mfa_authenticate"), {"code": "123456"})
    line = lines()[-1]
    assert f"event=mfa_failed logger=still_reed.auth user_id={clinician.pk}" in line
    assert "123456" not in line


def test_a_page_that_is_not_theirs(person, lines):
    signed_in(person.account).get("/board/")
    line = lines()[-1]
    assert f"event=permission_denied logger=still_reed.auth user_id={person.account.pk}" in line
    assert "view=decisions:board method=GET" in line


def record(event, **extra):
    made = logging.LogRecord("still_reed.test", logging.ERROR, "", 1, event, (), None)
    made.__dict__.update(extra)
    return made


def test_a_line_is_key_value_or_json_and_never_holds_what_opens_something():
    said = record("GET /practice/with/open-sesame/", view="a b", request=object(), count=2)
    plain = formatter("logfmt").format(said)
    assert "sesame" not in plain
    assert 'event="GET /practice/with/…"' in plain
    assert 'view="a b" count=2' in plain
    told = json.loads(formatter("json").format(said))
    assert (told["level"], told["event"], told["count"]) == (
        "error", "GET /practice/with/…", 2,
    )  # fmt: skip
    assert "request" not in told


def test_a_traceback_stays_on_the_line_of_its_event():
    try:
        raise ValueError("of one\nand two lines")
    except ValueError as error:
        wrong = (type(error), error, error.__traceback__)
    said = record("client_status_failed", fault="abc")
    said.exc_info = wrong
    line = formatter().format(said)
    assert "\n" not in line
    assert "ValueError" in line
    assert "fault=abc" in line


def test_an_unknown_layout_is_refused_by_name():
    with pytest.raises(ValueError, match="LOG_FORMAT is 'xml': use one of logfmt, json"):
        formatter("xml")
