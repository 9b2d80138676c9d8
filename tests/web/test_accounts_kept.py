"""Passwords forgotten and changed; sessions listed, ended, and timed out."""

import re
from datetime import timedelta

import pytest
from django.core import mail
from django.test import Client as Browser
from django.urls import reverse
from django.utils import timezone

from web.accounts.jobs import mail_password_link

pytestmark = pytest.mark.django_db
PASSWORD, OTHER = "quiet-water-reed", "seven-grey-herons"


@pytest.fixture
def known(clinician):
    clinician.email = "mira@clinic.example"
    clinician.set_password(PASSWORD)
    clinician.save()
    return clinician


def signed_in(user, password=PASSWORD):
    browser = Browser()
    browser.post(reverse("accounts:sign_in"), {"username": user.username, "password": password})
    return browser


def is_in(browser):
    return browser.get(reverse("decisions:board")).status_code == 200


def accounts_with_link(who, monkeypatch):
    """Return the accounts with a queued link."""
    deferred = []
    monkeypatch.setattr(
        "web.accounts.actions.app.configure_task",
        lambda name: type("Task", (), {"defer": lambda self, user, **_: deferred.append(user)})(),
    )
    page = Browser().post(reverse("accounts:forgotten"), {"who": who})
    return deferred, page.content.decode()


@pytest.mark.parametrize("who", ["MIRA@clinic.example", "name"])
def test_a_forgotten_password_is_chosen_anew_by_a_link_in_the_mail(known, who, monkeypatch):
    deferred, _ = accounts_with_link(known.username if who == "name" else who, monkeypatch)
    assert deferred == [known.pk]
    mail_password_link(user=known.pk)
    (sent,) = mail.outbox
    assert sent.to == [known.email]
    path = re.search(r"https?://[^/]+(/choose-password/\S+)", sent.body)[1]
    browser = Browser()
    form = browser.get(path, follow=True)
    browser.post(form.request["PATH_INFO"], {"new_password1": OTHER, "new_password2": OTHER})
    assert is_in(signed_in(known, OTHER))
    assert not is_in(signed_in(known))


@pytest.mark.parametrize("role", ["assistant", "viewer"])
def test_every_member_of_staff_gets_an_account(known, role):
    known.role = role
    known.save()
    mail_password_link(user=known.pk)
    assert len(mail.outbox) == 1


def test_the_existence_of_an_account_is_not_disclosed(known, person, monkeypatch):
    there, told = accounts_with_link(known.email, monkeypatch)
    nobody, as_told = accounts_with_link("nobody@clinic.example", monkeypatch)
    client, _ = accounts_with_link(person.account.username, monkeypatch)
    assert (len(there), nobody, client) == (1, [], [])
    strip = re.compile(r"csrf\S+|nonce\S+")
    assert strip.sub("", told) == strip.sub("", as_told)


def test_an_account_is_sent_three_links_an_hour_and_no_more(known, monkeypatch):
    assert sum(len(accounts_with_link(known.email, monkeypatch)[0]) for _ in range(5)) == 3


def test_a_closed_account_gets_none(known):
    known.is_active = False
    known.save()
    mail_password_link(user=known.pk)
    assert mail.outbox == []


def test_another_password_signs_out_everywhere_else(known):
    here, there = signed_in(known), signed_in(known)
    given = {"old_password": PASSWORD, "new_password1": OTHER, "new_password2": OTHER}
    assert "not right" not in here.post(reverse("accounts:own"), given).content.decode()
    assert is_in(here)
    assert not is_in(there)
    assert is_in(signed_in(known, OTHER))


def test_a_wrong_or_a_weak_password_changes_nothing(known):
    here = signed_in(known)
    for given in (
        {"old_password": "another", "new_password1": OTHER, "new_password2": OTHER},
        {"old_password": PASSWORD, "new_password1": "short", "new_password2": "short"},
        {"old_password": PASSWORD, "new_password1": OTHER, "new_password2": OTHER + "s"},
    ):
        page = here.post(reverse("accounts:own"), given).content.decode()
        assert 'class="error' in page
    assert is_in(signed_in(known))


def test_other_sessions_are_seen_and_ended(known):
    here, there = signed_in(known), signed_in(known)
    assert is_in(there)
    assert is_in(here)
    page = here.get(reverse("accounts:own")).content.decode()
    assert page.count("127.0.0.1") == 2
    here.post(reverse("accounts:end_others"))
    assert is_in(here)
    assert not is_in(there)


def test_an_idle_user_is_signed_out_and_polling_does_not_count_as_activity(known, clock):
    now = timezone.now()
    here = signed_in(known)
    assert is_in(here)
    clock(now + timedelta(minutes=29))
    assert is_in(here)
    for minutes in (39, 49, 58):  # Automatically.
        clock(now + timedelta(minutes=minutes))
        here.get(reverse("decisions:board"), headers={"Sec-Fetch-Mode": "cors"})
    clock(now + timedelta(minutes=60))
    gone = here.get(reverse("decisions:board"), follow=True)
    assert "You were signed out after 30 minutes" in gone.content.decode()
    assert not is_in(here)


def test_a_client_at_practice_is_not_signed_out(person, as_client, clock):
    as_client.get("/practice/")
    clock(timezone.now() + timedelta(hours=2))
    assert as_client.get("/practice/").status_code == 200
