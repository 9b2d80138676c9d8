"""Sessions are recorded for each user and can be ended."""

from importlib import import_module

import pytest
from allauth.usersessions.models import UserSession
from django.apps import apps
from django.contrib.sessions.models import Session
from django.test import Client as Browser
from django.utils import timezone

from tests.factories import PASSWORD
from web.accounts.sessions import SEEN, end_sessions, sessions_of

pytestmark = pytest.mark.django_db
lists = import_module("web.accounts.migrations.0002_sessions_are_listed").list_sessions


def signed_in_at(user, address):
    browser = Browser(REMOTE_ADDR=address, headers={"User-Agent": "a browser"})
    sent = browser.post("/sign-in/", {"username": user.username, "password": PASSWORD})
    assert sent.status_code == 302, sent.content
    return browser


def test_each_session_is_listed_with_where_it_was_begun(clinician):
    signed_in_at(clinician, "192.0.2.7")
    signed_in_at(clinician, "2001:db8::1")
    listed = {(each.ip, each.user_agent) for each in sessions_of(clinician)}
    assert listed == {("192.0.2.7", "a browser"), ("2001:db8::1", "a browser")}


def test_sessions_end_everywhere_but_here(clinician):
    here, there = (signed_in_at(clinician, f"192.0.2.{at}") for at in (1, 2))
    assert end_sessions(clinician, but=here.session.session_key) == 1
    assert here.get("/account/").status_code == 200
    assert there.get("/account/").status_code == 302


def test_with_a_new_password_this_session_is_the_one_listed(clinician):
    here = signed_in_at(clinician, "192.0.2.1")
    before = here.session.session_key
    fresh = "reeds beside the slow river 7"
    sent = here.post(
        "/account/",
        {"old_password": PASSWORD, "new_password1": fresh, "new_password2": fresh},
    )
    assert sent.status_code == 302, sent.content
    now = here.session.session_key
    assert now != before
    assert [each.session_key for each in sessions_of(clinician)] == [now]


def test_a_session_that_runs_out_leaves_the_list(clinician):
    gone = signed_in_at(clinician, "192.0.2.1").session.session_key
    Session.objects.filter(session_key=gone).delete()
    assert sessions_of(clinician) == []


def test_sessions_begun_before_there_was_a_list_are_put_on_it(clinician):
    browser = signed_in_at(clinician, "192.0.2.9")
    session = browser.session
    began = timezone.now().timestamp() - 3600
    session["begun"] = {"at": began, "address": "192.0.2.9", "device": "an old browser"}
    session[SEEN] = began + 60
    session.save()
    UserSession.objects.all().delete()
    assert end_sessions(clinician) == 0  # As it would be without it.
    lists(apps, None)
    lists(apps, None)  # A second press changes nothing.
    (row,) = sessions_of(clinician)
    assert (row.ip, row.user_agent) == ("192.0.2.9", "an old browser")
    assert row.last_seen_at.timestamp() == pytest.approx(began + 60)
    assert end_sessions(clinician) == 1
    assert browser.get("/account/").status_code == 302
